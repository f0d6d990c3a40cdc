import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { fetchAnew, showAnswer } from "../../api/answered";
import { ask, client, type Refused, type Schemas } from "../../api/client";
import { invalidateWork, useSiteKey } from "../../api/site";

export type Case = Schemas["CaseSheet"];
export type Check = Schemas["CaseCheck"];
export type Told = { check: string; at: string; result: string | null };

const at = (key: string, number: number) => ({ params: { path: { key, number } } });

export function useCase(number: number) {
  const key = useSiteKey();
  return useQuery({
    queryKey: ["site", key, "case", number],
    queryFn: () => ask(client.GET("/api/sites/{key}/faults/{number}", at(key, number))),
  });
}

/** Open a case or a drill; what comes back is the case itself. */
export function useOpening() {
  const key = useSiteKey();
  const queries = useQueryClient();
  return useMutation<Case, Refused, Schemas["NewCase"]>({
    mutationFn: (body) =>
      ask(client.POST("/api/sites/{key}/faults", { params: { path: { key } }, body })) as Promise<Case>,
    onSuccess: (found) => showAnswer(queries, ["site", key, "case", found.number], found),
    onSettled: () => invalidateWork(queries, key),
  });
}

export type Step =
  | { do: "seen"; told: Told }
  | { do: "back" }
  | { do: "cause"; faults: Schemas["FaultName"][]; note: string }
  | { do: "mended"; note: string }
  | { do: "again"; told: Told };

/** A step of a case: the answer is the case as it stands then. */
export function useStep(number: number) {
  const key = useSiteKey();
  const queries = useQueryClient();
  return useMutation<Case, Refused, Step>({
    mutationFn: (step) => {
      const place = at(key, number);
      if (step.do === "seen")
        return ask(client.POST("/api/sites/{key}/faults/{number}/seen", { ...place, body: step.told }));
      if (step.do === "back") return ask(client.DELETE("/api/sites/{key}/faults/{number}/seen", place));
      if (step.do === "cause") {
        const body = { faults: step.faults, note: step.note };
        return ask(client.PUT("/api/sites/{key}/faults/{number}/cause", { ...place, body }));
      }
      if (step.do === "mended")
        return ask(
          client.PUT("/api/sites/{key}/faults/{number}/mended", { ...place, body: { note: step.note } }),
        );
      return ask(client.POST("/api/sites/{key}/faults/{number}/again", { ...place, body: step.told }));
    },
    onSuccess: (found) => showAnswer(queries, ["site", key, "case", number], found),
    onError: () => queries.invalidateQueries({ queryKey: ["site", key, "case", number] }),
    onSettled: () =>
      fetchAnew(queries, {
        queryKey: ["site", key],
        predicate: ({ queryKey }) => queryKey[2] === "faults" || queryKey[2] === "log",
      }),
  });
}

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { ask, client, type Refused, type Schemas } from "../../api/client";
import { useSiteKey } from "../../api/site";
import type { Sheet } from "./useBench";

type Change = Omit<Schemas["StepChange"], "revision">;
export type Word = Partial<Change> & Pick<Change, "state">;

/** Records what becomes of a step, and of the run. `stage` is the end of the sheet's query key. */
export function useRecord(stage: string[]) {
  const key = useSiteKey();
  const queries = useQueryClient();
  const sheet = ["site", key, ...stage];
  const said = ["said at the bench", key];
  const shared = {
    mutationKey: said,
    scope: { id: `bench ${key}` },
    onSettled: () => {
      if (queries.isMutating({ mutationKey: said }) === 1)
        return queries.invalidateQueries({ queryKey: ["site", key] });
    },
  };
  const step = useMutation<Schemas["Revised"], Refused, { step: string } & Schemas["StepChange"]>({
    ...shared,
    mutationFn: ({ step, ...body }) =>
      ask(
        client.POST("/api/sites/{key}/bench/{step}", {
          params: { path: { key, step } },
          body,
          keepalive: true,
        }),
      ),
  });
  const run = useMutation<Schemas["Revised"], Refused, Schemas["RunChange"]>({
    ...shared,
    mutationFn: (body) => ask(client.PATCH("/api/sites/{key}/run", { params: { path: { key } }, body })),
  });
  const start = useMutation<Schemas["Revised"], Refused, number>({
    ...shared,
    mutationFn: (hands) =>
      ask(client.POST("/api/sites/{key}/run", { params: { path: { key } }, body: { hands } })),
  });

  /** Say what became of a step: done, ready, longer, failed, left out, open again. */
  function settle(id: string, word: Word) {
    if (queries.isMutating({ mutationKey: said }) > 0) return; // it is being said already
    queries.cancelQueries({ queryKey: sheet }, { revert: false }); // what is on the way is older than this
    const data = queries.getQueryData<Sheet>(sheet);
    const found = data?.steps.find((item) => item.id === id);
    if (found || word.state === "back")
      step.mutate({
        reason: "",
        after: "",
        seconds: 0,
        ...word,
        step: id,
        revision: found?.revision ?? 0,
        hand: data?.run.hand ?? 1,
      });
  }
  return {
    settle,
    start: start.mutate,
    change: (change: Schemas["RunChange"]["change"], hands = 1) => {
      const revision = queries.getQueryData<Sheet>(sheet)?.run.revision ?? 0;
      run.mutate({ change, revision, hands });
    },
    settling: step.isPending || run.isPending,
    starting: start.isPending,
    error: step.error ?? run.error ?? start.error,
  };
}

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { ask, client, type Refused, type Schemas } from "../../api/client";
import { useSiteKey } from "../../api/site";

type Sheet = Schemas["BenchSheet"];
type Record = { step: string } & Schemas["StepChange"];

/** Records what becomes of a step. */
export function useRecord() {
  const key = useSiteKey();
  const queries = useQueryClient();
  const sheet = ["site", key, "bench"];
  const mutation = useMutation<Schemas["Revised"], Refused, Record>({
    mutationKey: sheet,
    scope: { id: `bench ${key}` },
    mutationFn: ({ step, ...body }) =>
      ask(
        client.POST("/api/sites/{key}/bench/{step}", {
          params: { path: { key, step } },
          body,
          keepalive: true,
        }),
      ),
    onSettled: () => {
      if (queries.isMutating({ mutationKey: sheet }) === 1)
        return queries.invalidateQueries({ queryKey: ["site", key] });
    },
  });

  /** Say that a step is done, left out with a reason, or open again. */
  function settle(id: string, state: "done" | "skipped" | "open", reason = "") {
    if (queries.isMutating({ mutationKey: sheet }) > 0) return; // it is being said already
    queries.cancelQueries({ queryKey: sheet }, { revert: false }); // what is on the way is older than this
    const step = queries.getQueryData<Sheet>(sheet)?.steps.find((item) => item.id === id);
    if (step) mutation.mutate({ step: id, revision: step.revision, state, reason });
  }
  return { settle, settling: mutation.isPending, error: mutation.error };
}

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { ask, client, type Refused, type Schemas } from "../../api/client";
import { useSiteKey } from "../../api/site";

type Sheet = Schemas["BenchSheet"];
type Record = { step: string } & Schemas["StepChange"];

/**
 * Records what becomes of a step. A tick shows at once and the next one may follow before the server has
 * answered: they are sent one after the other, each based on the one before, so that no key press is lost.
 */
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

  function send(id: string, change: Omit<Schemas["StepChange"], "revision">) {
    queries.cancelQueries({ queryKey: sheet }, { revert: false }); // what is on the way is older than this
    const now = queries.getQueryData<Sheet>(sheet);
    const step = now?.steps.find((item) => item.id === id);
    if (!now || !step) return;
    const after = { ...step, ticked: change.ticked ?? step.ticked, revision: step.revision + 1 };
    queries.setQueryData<Sheet>(sheet, {
      ...now,
      steps: now.steps.map((item) => (item === step ? after : item)),
    });
    mutation.mutate({ step: id, revision: step.revision, ...change });
  }

  /** Tick a value of a step or take the tick away; without a label the next value that has none. */
  function tick(id: string, label?: string) {
    const step = queries.getQueryData<Sheet>(sheet)?.steps.find((item) => item.id === id);
    const chosen = label ?? step?.values.find((value) => !step.ticked.includes(value.label))?.label;
    if (!step || !chosen) return;
    const ticked = step.ticked.includes(chosen)
      ? step.ticked.filter((item) => item !== chosen)
      : [...step.ticked, chosen];
    send(id, { ticked, reason: "" });
  }

  /** Say that a step is done, left out with a reason, or open again. */
  function settle(id: string, state: "done" | "skipped" | "open", reason = "") {
    send(id, { state, reason });
  }
  const settling = mutation.isPending && mutation.variables?.state !== undefined;
  return { tick, settle, settling, error: mutation.error };
}

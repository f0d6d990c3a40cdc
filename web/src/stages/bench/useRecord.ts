import { useMutation, useQueryClient } from "@tanstack/react-query";
import { ask, client, type Refused, type Schemas } from "../../api/client";
import { invalidateWork, useSiteKey } from "../../api/site";
import type { Sheet } from "./useBench";

type Change = Omit<Schemas["StepChange"], "revision">;
export type Word = Partial<Change> & Pick<Change, "state">;
type Told = { step: string; word: Word };

/**
 * Records what becomes of a step, and of the run. `stage` is the end of the sheet's query key. What is said while
 * something else is being kept waits for its turn, and is said of the sheet as it stands then.
 */
export function useRecord(stage: string[]) {
  const key = useSiteKey();
  const queries = useQueryClient();
  const sheet = ["site", key, ...stage];
  const said = ["said at the bench", key];
  const shared = {
    mutationKey: said,
    scope: { id: `bench ${key}` },
    onSettled: () => invalidateWork(queries, key),
  };
  const standing = () => queries.getQueryData<Sheet>(sheet);
  const step = useMutation<Schemas["Revised"], Refused, Told>({
    ...shared,
    mutationFn: ({ step, word }) => {
      queries.cancelQueries({ queryKey: sheet }, { revert: false }); // what is on the way is older than this
      const data = standing();
      const revision = data?.steps.find((item) => item.id === step)?.revision ?? 0;
      const empty = { reason: "", after: "", seconds: 0 } as const;
      const body = { ...empty, ...word, revision, hand: data?.run.hand ?? 1 };
      return ask(
        client.POST("/api/sites/{key}/bench/{step}", {
          params: { path: { key, step } },
          body,
          keepalive: true,
        }),
      );
    },
  });
  const run = useMutation<Schemas["Revised"], Refused, Omit<Schemas["RunChange"], "revision">>({
    ...shared,
    mutationFn: (change) => {
      const body = { ...change, revision: standing()?.run.revision ?? 0 };
      return ask(client.PATCH("/api/sites/{key}/run", { params: { path: { key } }, body }));
    },
  });
  const start = useMutation<Schemas["Revised"], Refused, number>({
    ...shared,
    mutationFn: (technicians) =>
      ask(client.POST("/api/sites/{key}/run", { params: { path: { key } }, body: { technicians } })),
  });

  /** Say what became of a step: done, ready, longer, failed, left out, open again. Twice of one step counts once. */
  function settle(id: string, word: Word) {
    const waiting = queries.getMutationCache().findAll({ mutationKey: said, status: "pending" });
    if (waiting.some((item) => (item.state.variables as Partial<Told> | undefined)?.step === id)) return;
    const known = word.state === "back" || standing()?.steps.some((item) => item.id === id);
    if (known) step.mutate({ step: id, word });
  }
  return {
    settle,
    start: start.mutate,
    change: (change: Schemas["RunChange"]["change"], technicians = 1) => run.mutate({ change, technicians }),
    settling: step.isPending || run.isPending,
    starting: start.isPending,
    error: step.error ?? run.error ?? start.error,
  };
}

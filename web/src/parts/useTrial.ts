import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { ask, client, type Refused, type Schemas } from "../api/client";
import { invalidateSite, useSiteKey } from "../api/site";
import { useDraft } from "./drafts";

export type Draft = Schemas["Draft"];
type Parts = Record<string, unknown>;
type Trial = { draft: Draft; base: Parts };
const NONE: Trial | null = null;

/**
 * What is tried out of recordings, disks and feeding, and not kept yet. It outlives a closed tab. `was` is what stands in
 * the site; it is kept with the draft, so that somebody else's change meanwhile is noticed.
 */
export function useTrial(was: Parts | undefined) {
  const key = useSiteKey();
  const queries = useQueryClient();
  const [trial, setTrial, clear] = useDraft<Trial | null>(`trial.${key}`, NONE);
  const draft = trial?.draft ?? null;
  const kept = useMutation<unknown, Refused, Parts | undefined>({
    mutationFn: (current) =>
      ask(
        client.PATCH("/api/sites/{key}/recording", {
          params: { path: { key } },
          body: { draft: draft ?? {}, was: touched(draft ?? {}, current ?? trial?.base ?? {}) },
        }),
      ),
    onSuccess: clear,
    onSettled: () => invalidateSite(queries, key),
  });
  return {
    draft,
    kept,
    change: (parts: Partial<Draft>) =>
      setTrial({ draft: { ...draft, ...parts }, base: trial?.base ?? was ?? {} }),
    /** Change parts of one device. */
    changeDevice: (device: string, parts: Parts) => {
      const devices = draft?.devices ?? {};
      const fresh = { ...devices, [device]: { ...devices[device], ...parts } };
      setTrial({ draft: { ...draft, devices: fresh }, base: trial?.base ?? was ?? {} });
    },
    replace: (fresh: Draft) => setTrial({ draft: fresh, base: trial?.base ?? was ?? {} }),
    leave: () => {
      kept.reset();
      clear();
    },
    keep: () => kept.mutate(undefined),
    /** Keep it over what somebody else put there meanwhile. */
    keepAnyway: () => kept.mutate(kept.error?.conflict?.current as Parts),
  };
}

/** What of `base` a draft touches, in the shape of a draft. */
export function touched(draft: Draft, base: Parts): Draft {
  const found: Parts = {};
  for (const name of ["recording", "supplies", "retention_days"] as const)
    if (draft[name] !== undefined) found[name] = base[name] ?? null;
  if (draft.devices) {
    const known = (base.devices ?? {}) as Record<string, Parts>;
    found.devices = Object.fromEntries(
      Object.entries(draft.devices).map(([device, parts]) => [
        device,
        Object.fromEntries(
          Object.keys(parts).map((part) => [
            part,
            known[device]?.[part] ?? (part === "raid" ? "none" : null),
          ]),
        ),
      ]),
    );
  }
  return found as Draft;
}

/** Under which key a tried sheet is kept. */
export function triedKey(site: string, name: string, draft: Draft | null) {
  return ["site", site, name, "tried", draft];
}

/** A sheet as it would be with a draft: the last answer stays until the next is there. */
export function useTried<T>(
  name: string,
  draft: Draft | null,
  fetchIt: (key: string, draft: Draft) => Promise<T>,
) {
  const key = useSiteKey();
  return useQuery<T, Refused>({
    queryKey: triedKey(key, name, draft),
    queryFn: () => fetchIt(key, draft ?? {}),
    enabled: draft !== null,
    placeholderData: keepPreviousData,
    retry: false,
  });
}

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useSyncExternalStore } from "react";
import { ask, client, type Refused, type Schemas } from "../../api/client";
import { invalidateSite, useSiteKey } from "../../api/site";
import { type Device, inverse, type Sheet, type Value } from "./columns";

export type Edit = { device: string; change: Record<string, Value> };
type Sent = { edits: Edit[]; undo?: Undo | undefined; taken?: Undo | undefined };
type Undo = { words: string; edits?: Edit[]; restore?: Schemas["Removed"]; remove?: string[] };

/** What can be taken back, by site; it outlives a walk to another stage. */
const undos = new Map<string, Undo[]>();
const listeners = new Set<() => void>();
function tell() {
  for (const listener of listeners) listener();
}
export function pushUndo(site: string, undo: Undo) {
  undos.set(site, [...(undos.get(site) ?? []), undo].slice(-100));
  tell();
}

/** Changes of many cells at once: shown at once, sent one after the other, taken back with `undo`. */
export function useEdits() {
  const key = useSiteKey();
  const queries = useQueryClient();
  const sheetKey = ["site", key, "kit"];
  const last = useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => undos.get(key)?.at(-1),
  );

  const again = (taken: Undo | undefined) => {
    if (taken) pushUndo(key, taken); // what was not taken back can be tried again
  };
  const settle = () => {
    if (queries.isMutating({ mutationKey: ["kit", key] }) <= 1) invalidateSite(queries, key);
  };
  const send = useMutation<Schemas["DeviceRevisions"], Refused, Sent>({
    mutationKey: ["kit", key],
    scope: { id: `kit ${key}` },
    mutationFn: ({ edits }) => {
      const sheet = queries.getQueryData<Sheet>(sheetKey);
      const revisions = new Map(sheet?.devices.map((device) => [device.key, device.revision]));
      const changes = edits.map(({ device, change }) => ({
        device,
        revision: revisions.get(device) ?? 0,
        ...change,
      }));
      return ask(
        client.PATCH("/api/sites/{key}/devices", {
          params: { path: { key } },
          body: { changes: changes as Schemas["OneChange"][] },
        }),
      );
    },
    onSuccess: (done) => {
      const fresh = new Map(done.devices.map((device) => [device.key, device.revision]));
      patch((device) => (fresh.has(device.key) ? { revision: fresh.get(device.key) ?? 0 } : null));
    },
    onError: (_, { undo, taken }) => {
      undos.set(
        key,
        (undos.get(key) ?? []).filter((one) => one !== undo),
      ); // nothing was done
      tell();
      again(taken);
    },
    onSettled: settle,
  });
  const putBack = useMutation<unknown, Refused, { body: Schemas["Removed"]; taken: Undo }>({
    mutationKey: ["kit", key],
    scope: { id: `kit ${key}` },
    mutationFn: ({ body }) =>
      ask(client.POST("/api/sites/{key}/devices/restore", { params: { path: { key } }, body })),
    onError: (_, { taken }) => again(taken),
    onSettled: settle,
  });

  const dequeue = useMutation<Schemas["Removed"], Refused, { keys: string[]; words?: string; taken?: Undo }>({
    mutationKey: ["kit", key],
    scope: { id: `kit ${key}` },
    onSuccess: (gone, { words }) => words && pushUndo(key, { words, restore: gone }),
    onError: (_, { taken }) => again(taken),
    mutationFn: ({ keys }) => {
      const sheet = queries.getQueryData<Sheet>(sheetKey);
      const devices = (sheet?.devices ?? [])
        .filter((device) => keys.includes(device.key))
        .map((device) => ({ key: device.key, revision: device.revision }));
      return ask(
        client.POST("/api/sites/{key}/devices/remove", { params: { path: { key } }, body: { devices } }),
      );
    },
    onSettled: settle,
  });

  const name = useMutation<Schemas["Names"], Refused, { pattern: string; keys: string[]; words: string }>({
    mutationKey: ["kit", key],
    scope: { id: `kit ${key}` }, // names are made of what stands there once every edit before is stored
    mutationFn: ({ pattern, keys }) =>
      ask(
        client.POST("/api/sites/{key}/kit/names", {
          params: { path: { key } },
          body: { pattern, devices: keys },
        }),
      ),
    onSuccess: ({ names }, { words }) =>
      apply(
        Object.entries(names).map(([device, fresh]) => ({ device, change: { name: fresh } })),
        words,
      ),
  });

  function patch(change: (device: Device) => Partial<Device> | null) {
    queries.setQueryData<Sheet>(
      sheetKey,
      (sheet) =>
        sheet && {
          ...sheet,
          devices: sheet.devices.map((device) => {
            const fresh = change(device);
            return fresh ? { ...device, ...fresh } : device;
          }),
        },
    );
  }

  function apply(edits: Edit[], words: string, taken?: Undo) {
    const sheet = queries.getQueryData<Sheet>(sheetKey);
    if (!sheet || edits.length === 0) return;
    const before = new Map(sheet.devices.map((device) => [device.key, device]));
    const back = edits.flatMap(({ device, change }) => {
      const now = before.get(device);
      return now ? [{ device, change: inverse(now, change) }] : [];
    });
    const undo = taken ? undefined : { words, edits: back };
    if (undo) pushUndo(key, undo);
    queries.cancelQueries({ queryKey: sheetKey }, { revert: false, silent: true });
    const fresh = new Map(edits.map((edit) => [edit.device, edit.change]));
    patch((device) => (fresh.get(device.key) as Partial<Device> | undefined) ?? null);
    send.mutate({ edits, undo, taken });
  }

  function undo() {
    const taken = undos.get(key)?.at(-1);
    if (!taken) return;
    undos.set(key, (undos.get(key) ?? []).slice(0, -1));
    tell();
    if (taken.edits) apply(taken.edits, taken.words, taken);
    if (taken.restore) putBack.mutate({ body: taken.restore, taken });
    if (taken.remove) dequeue.mutate({ keys: taken.remove, taken });
  }
  return {
    apply,
    undo,
    nameBy: (pattern: string, keys: string[], words: string) => name.mutate({ pattern, keys, words }),
    remove: (keys: string[], words: string) => dequeue.mutate({ keys, words }),
    canUndo: last?.words,
    error: send.error ?? putBack.error ?? dequeue.error ?? name.error,
  };
}

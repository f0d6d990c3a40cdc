import { useMutation, useQueryClient } from "@tanstack/react-query";
import { ask, client, type Refused, type Schemas } from "../api/client";
import { useSiteKey } from "../api/site";

export type Line = Schemas["LineRow"];
export type Group = Schemas["GroupRow"];
type Holder = { groups: Group[] };
type Cached = Holder | { current: Holder | null };

/** The groups of values in what a query holds: the bench's current step, or a device's page. */
function groupsIn(data: Cached | undefined): Group[] {
  if (!data) return [];
  return "groups" in data ? data.groups : (data.current?.groups ?? []);
}

function withGroups<T extends Cached>(data: T, change: (groups: Group[]) => Group[]): T {
  if ("groups" in data) return { ...data, groups: change(data.groups) };
  return { ...data, current: data.current && { ...data.current, groups: change(data.current.groups) } };
}

/** The first value that is not ticked yet. */
export function nextLine(groups: Group[]): Line | undefined {
  return groups.flatMap((group) => group.lines).find((line) => !line.ticked);
}

/**
 * Ticks values of a sheet (`stage` is the end of its query key). A tick shows at once and the next may follow before
 * the server has answered: they are sent one after the other, so that no key press is lost.
 */
export function useTicks(stage: string[]) {
  const key = useSiteKey();
  const queries = useQueryClient();
  const sheet = ["site", key, ...stage];
  const mutation = useMutation<unknown, Refused, Schemas["Tick"]>({
    mutationKey: ["ticks", key],
    scope: { id: `ticks ${key}` },
    mutationFn: (body) =>
      ask(client.POST("/api/sites/{key}/typed", { params: { path: { key } }, body, keepalive: true })),
    onSettled: () => {
      if (queries.isMutating({ mutationKey: ["ticks", key] }) === 1)
        return queries.invalidateQueries({ queryKey: ["site", key] });
    },
  });

  function mark(subject: string, chosen: (line: Line) => boolean, done: boolean) {
    queries.cancelQueries({ queryKey: sheet }, { revert: false }); // what is on the way is older than this
    const now = queries.getQueryData<Cached>(sheet);
    const lines = groupsIn(now).flatMap((group) => group.lines.filter(chosen));
    const keys = new Set(lines.map((line) => line.key));
    queries.setQueryData<Cached>(
      sheet,
      now &&
        withGroups(now, (groups) =>
          groups.map((group) => ({
            ...group,
            lines: group.lines.map((line) => (keys.has(line.key) ? { ...line, ticked: done } : line)),
          })),
        ),
    );
    for (const line of lines) mutation.mutate({ subject, line: line.key, value: line.mark, done });
  }
  return {
    /** Tick a value, or take its tick away. */
    toggle: (subject: string, line: Line) => mark(subject, (item) => item.key === line.key, !line.ticked),
    /**
     * Tick the first value that has none, as the sheet stands at this moment; false where every one is ticked. Keys may
     * come faster than the screen: a secret that is not kept is only passed over by whoever `saw` it.
     */
    next: (subject: string, saw: string): boolean => {
      const line = nextLine(groupsIn(queries.getQueryData<Cached>(sheet)));
      if (line && (line.secret?.version !== 0 || line.key === saw))
        mark(subject, (item) => item.key === line.key, true);
      return line !== undefined;
    },
    /** Tick every value of a group. */
    all: (subject: string, group: Group) => {
      const keys = new Set(group.lines.map((line) => line.key));
      mark(subject, (item) => keys.has(item.key) && !item.ticked, true);
    },
    error: mutation.error,
  };
}

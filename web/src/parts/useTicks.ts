import { type QueryClient, useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { ask, client, type Refused, type Schemas } from "../api/client";
import { invalidateWork, useSession, useSiteKey } from "../api/site";
import { dequeue, enqueue, type Waiting, waiting } from "./outbox";
import { isUnmade } from "./useSlot";

export type Line = Schemas["LineRow"];
export type Group = Schemas["GroupRow"];
/** `late`: it waited for this page, whose sheet may have been fetched without it. */
type Tick = Waiting<Schemas["Tick"]> & { late?: boolean };
type Holder = { groups: Group[] };
type Sheeted = { current: (Holder & { subject: string }) | null };
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

/** What somebody else ticked: it shows on every sheet at hand, and nothing is fetched for it. */
export type TickSeen = Schemas["Tick"] & { by: string; at: string };

export function showTicks(queries: QueryClient, key: string, seen: TickSeen[]): void {
  for (const tick of seen) {
    const change = (groups: Group[]) =>
      groups.map((group) => ({
        ...group,
        lines: group.lines.map((line) =>
          line.key === tick.line && line.mark === tick.value
            ? {
                ...line,
                ticked: tick.done,
                typed_by: tick.done ? tick.by : null,
                typed_at: tick.done ? tick.at : null,
              }
            : line,
        ),
      }));
    queries.setQueriesData<Sheeted>({ queryKey: ["site", key, "bench"] }, (data) =>
      data?.current?.subject === tick.subject ? withGroups(data, change) : data,
    );
    queries.setQueryData<Holder>(
      ["site", key, "device", tick.subject],
      (data) => data && withGroups(data, change),
    );
  }
}

/** The first value that is not ticked yet. */
export function nextLine(groups: Group[]): Line | undefined {
  return groups.flatMap((group) => group.lines).find((line) => !line.ticked);
}

/** A value that somebody has to fill, or to make, before it can be typed. */
function isMissing(line: Line): boolean {
  return line.secret !== null && (isUnmade(line.secret) || line.secret.undecided);
}

const MOST_AT_ONCE = 11;

/**
 * `titles` are those of groups that are new on this device, `same` how many values are as on the device `like`;
 * `blocked` is the value at which it ends because it has to be made or filled first.
 */
type Stretch = {
  lines: Line[];
  titles: string[];
  same: number;
  like: string | null;
  blocked: Line | undefined;
};

/**
 * What one press confirms: the first open value with the rest of its group, short groups after it, and every group that is
 * the same as on the device before; it ends where a value has to be made or filled first.
 */
export function stretch(groups: Group[]): Stretch {
  const found: Stretch = { lines: [], titles: [], same: 0, like: null, blocked: undefined };
  let counted = 0;
  for (const group of groups) {
    const open = group.lines.filter((line) => !line.ticked);
    if (open.length === 0) continue;
    const stop = open.findIndex(isMissing);
    const ready = stop < 0 ? open : open.slice(0, stop);
    const weight = group.same_as ? 0 : ready.length;
    if (found.lines.length > 0 && counted + weight > MOST_AT_ONCE) break;
    if (group.same_as) {
      found.same += ready.length;
      found.like = group.same_as;
    } else if (ready.length > 0) found.titles.push(group.title);
    found.lines.push(...ready);
    counted += weight;
    found.blocked = open[stop];
    if (found.blocked) break;
  }
  return found;
}

/**
 * Ticks values of a sheet (`stage` is the end of its query key). A tick shows at once and the next may follow before
 * the server has answered: they are sent one after the other, so that no key press is lost. Those that a closed page left
 * unanswered are sent when a sheet of the site is opened again.
 */
export function useTicks(stage: string[]) {
  const key = useSiteKey();
  const queries = useQueryClient();
  const sheet = ["site", key, ...stage];
  const user = useSession().data?.user;
  const box = `ticks.${user}.${key}`; // what one typed is never sent as another's
  const mutationKey = ["ticks", key];
  const mutation = useMutation<unknown, Refused, Tick>({
    mutationKey,
    scope: { id: box },
    mutationFn: ({ id: _, late: __, ...body }) =>
      ask(client.POST("/api/sites/{key}/typed", { params: { path: { key } }, body, keepalive: true })),
    retry: (_, refused) => refused.status === 0,
    retryDelay: 2_000,
    onSettled: (_, refused, tick) => {
      if (refused?.status !== 401 && refused?.status !== 403) dequeue(box, tick.id); // else it waits for a new sign-in
      if (!refused) showTicks(queries, key, [{ ...tick, by: user ?? "", at: new Date().toISOString() }]);
      // a sheet that came or is on the way while ticks were may be older than they are
      const older = queries.isFetching({ queryKey: sheet }) > 0;
      if ((refused || tick.late || older) && queries.isMutating({ mutationKey }) === 1) {
        const first = queries.getQueryData(sheet) === undefined; // a first fetch is joined, not begun anew
        return invalidateWork(queries, key).then(() => (first ? invalidateWork(queries, key) : undefined));
      }
    },
  });
  const { mutate } = mutation;
  useEffect(() => {
    const sent = queries.getMutationCache().findAll({ mutationKey: ["ticks", key], status: "pending" });
    const under = new Set(sent.map((item) => (item.state.variables as Tick).id));
    for (const tick of waiting<Schemas["Tick"]>(box))
      if (!under.has(tick.id)) mutate({ ...tick, late: true });
  }, [box, key, mutate, queries]);

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
    for (const line of lines) mutate(enqueue(box, { subject, line: line.key, value: line.mark, done }));
  }
  return {
    /** Tick a value, or take its tick away. */
    toggle: (subject: string, line: Line) => mark(subject, (item) => item.key === line.key, !line.ticked),
    /**
     * Tick the first value that has none, as the sheet stands at this moment. Keys may
     * come faster than the screen: a secret that is not kept is only passed over by whoever `saw` it.
     */
    next: (subject: string, saw: string): void => {
      const line = nextLine(groupsIn(queries.getQueryData<Cached>(sheet)));
      if (line && (line.secret?.version !== 0 || line.key === saw))
        mark(subject, (item) => item.key === line.key, true);
    },
    /**
     * Tick what one press confirms. Keys may come faster than the screen: only what begins with the value that was `saw`
     * is confirmed, so that nobody confirms a group unseen.
     */
    confirm: (subject: string, saw: string): void => {
      const groups = groupsIn(queries.getQueryData<Cached>(sheet));
      const keys = new Set(stretch(groups).lines.map((line) => line.key));
      if (nextLine(groups)?.key === saw) mark(subject, (item) => keys.has(item.key) && !item.ticked, true);
    },
    /** Tick every value of a group; one that somebody has to fill or to leave open first is passed over. */
    all: (subject: string, group: Group) => {
      const ready = group.lines.filter((line) => !line.secret?.undecided);
      const keys = new Set(ready.map((line) => line.key));
      mark(subject, (item) => keys.has(item.key) && !item.ticked, true);
    },
    error: mutation.error ?? mutation.failureReason,
  };
}

import type { Schemas } from "../../api/client";

type Beam = Schemas["Beam"];
type Thread = Schemas["Thread"];

export const ROW = 22;
export const GAP = 14;
export const LEFT = 312;
export const RIGHT = 610;
export const WIDTH = 850;

export type Start = { thread: Thread; beam: Beam; y: number };
export type Group = { place: string; from: number; to: number; starts: Start[] };
export type Tooth = { label: string; y: number; empty: boolean };
export type Comb = { beam: Beam; from: number; to: number; teeth: Tooth[]; tied: number };
export type Line = { start: Start; to: number | null };
export type Loom = { groups: Group[]; combs: Comb[]; lines: Line[]; height: number };

/** Where everything stands: starts by place on the left beam, channels on the right one; empty ones folded. */
export function loomOf(beams: Beam[], places: string[]): Loom {
  const order = new Map(places.map((place, at) => [place, at]));
  const all = beams.flatMap((beam) => beam.threads.map((thread) => ({ thread, beam })));
  const rank = (thread: Thread) => order.get(thread.place ?? "") ?? places.length;
  all.sort(
    (one, other) =>
      rank(one.thread) - rank(other.thread) ||
      beams.indexOf(one.beam) - beams.indexOf(other.beam) ||
      (one.thread.slot ?? 1e9) - (other.thread.slot ?? 1e9),
  );
  const groups: Group[] = [];
  let y = GAP;
  for (const item of all) {
    const place = item.thread.place ?? "No place";
    let group = groups.at(-1);
    if (!group || group.place !== place) {
      if (group) y += GAP;
      group = { place, from: y, to: y, starts: [] };
      groups.push(group);
    }
    group.starts.push({ ...item, y: y + ROW / 2 });
    y += ROW;
    group.to = y;
  }
  const combs = combsOf(beams);
  const seats = new Map<number, number>();
  for (const comb of combs)
    for (const thread of comb.beam.threads) {
      const tooth = comb.teeth.find((item) => !item.empty && item.label === String(thread.slot));
      if (tooth) seats.set(thread.id, tooth.y);
    }
  const lines = groups.flatMap((group) =>
    group.starts.map((start) => ({ start, to: seats.get(start.thread.id) ?? null })),
  );
  return { groups, combs, lines, height: Math.max(y, combs.at(-1)?.to ?? 0) + GAP };
}

function combsOf(beams: Beam[]): Comb[] {
  let y = GAP;
  return beams.map((beam) => {
    const from = y;
    const used = new Set(beam.threads.map((thread) => thread.slot).filter((slot) => slot !== null));
    const most = Math.max(beam.channels ?? 0, ...used, 0);
    const teeth: Tooth[] = [];
    for (let channel = 1; channel <= most; channel++) {
      if (used.has(channel)) {
        teeth.push({ label: String(channel), y: y + ROW / 2, empty: false });
        y += ROW;
        continue;
      }
      const first = channel;
      while (channel < most && !used.has(channel + 1)) channel++;
      const label = first === channel ? `${first} empty` : `${first}–${channel} empty`;
      teeth.push({ label, y: y + ROW / 2, empty: true });
      y += ROW;
    }
    y = Math.max(y, from + 3 * ROW);
    const comb = { beam, from, to: y, teeth, tied: used.size };
    y += GAP * 2;
    return comb;
  });
}

/** Channels of a recorder with who is on each: what a thread may be moved to. */
export function channelChoices(beam: Beam): { channel: number; holder: Thread | null }[] {
  const most = Math.max(beam.channels ?? 0, ...beam.threads.map((thread) => thread.slot ?? 0));
  return Array.from({ length: most }, (_, at) => ({
    channel: at + 1,
    holder: beam.threads.find((thread) => thread.slot === at + 1) ?? null,
  }));
}

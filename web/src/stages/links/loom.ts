import type { Schemas } from "../../api/client";
import { LOOSE } from "./words";

export type Beam = Schemas["Beam"];
export type Thread = Schemas["Thread"];

export const ROW = 22;
const GAP = 14;
export const LEFT = 312;
export const RIGHT = 610;
export const WIDTH = 862;
const HEAD = 26;
const FOLD_FROM = 3;

/** A row on the left: one thread, or several that stand alike and are folded into a strand. */
export type Strand = { key: string; threads: Thread[]; beam: Beam; y: number; to: number | null };
export type Group = { label: string; from: number; to: number; strands: Strand[] };
type Tooth = { label: string; y: number; empty: boolean };
export type Comb = { beam: Beam; from: number; to: number; teeth: Tooth[] };
export type Section = { title: string; from: number; groups: Group[]; combs: Comb[] };
export type Loom = { sections: Section[]; height: number };

type Row = { thread: Thread; beam: Beam };

/** Where everything stands: one section a kind of work, its starts by place on the left, its targets on the right. */
export function loomOf(
  beams: Beam[],
  places: string[],
  unfolded: ReadonlySet<string>,
  selected: number | null,
): Loom {
  const sections: Section[] = [];
  let y = GAP;
  for (const title of new Set(beams.map((beam) => beam.group))) {
    const own = beams.filter((beam) => beam.group === title);
    const section = sectionOf(title, own, places, unfolded, selected, y);
    sections.push(section);
    y = Math.max(section.groups.at(-1)?.to ?? y, section.combs.at(-1)?.to ?? y) + GAP * 2;
  }
  return { sections, height: y };
}

function sectionOf(
  title: string,
  beams: Beam[],
  places: string[],
  unfolded: ReadonlySet<string>,
  selected: number | null,
  from: number,
): Section {
  const order = new Map(places.map((place, at) => [place, at]));
  const rank = (thread: Thread) => order.get(thread.place ?? "") ?? places.length;
  const rows: Row[] = beams.flatMap((beam) => beam.threads.map((thread) => ({ thread, beam })));
  rows.sort(
    (one, other) =>
      rank(one.thread) - rank(other.thread) ||
      beams.indexOf(one.beam) - beams.indexOf(other.beam) ||
      (one.thread.slot ?? 1e9) - (other.thread.slot ?? 1e9),
  );
  const groups: Group[] = [];
  let y = from + HEAD;
  for (const run of runsOf(rows, selected)) {
    const first = run[0] as Row;
    const label = first.thread.place ?? "No place";
    let group = groups.at(-1);
    if (!group || group.label !== label) {
      if (group) y += GAP;
      group = { label, from: y, to: y, strands: [] };
      groups.push(group);
    }
    const key = `${title} ${label} ${first.beam.id} ${first.thread.id}`;
    const folds = run.length >= FOLD_FROM && !unfolded.has(key);
    const strands = folds ? [run] : run.map((row) => [row]);
    for (const strand of strands) {
      const threads = strand.map((row) => row.thread);
      group.strands.push({ key, threads, beam: first.beam, y: y + ROW / 2, to: null });
      y += ROW;
    }
    group.to = y;
  }
  const combs = combsOf(beams, groups, from + HEAD);
  return { title, from, groups, combs };
}

/** Neighbours that stand alike: one place, one target, one state, one thing missing. The chosen one stands alone. */
function runsOf(rows: Row[], selected: number | null): Row[][] {
  const runs: Row[][] = [];
  const alike = (one: Row, other: Row) =>
    one.thread.id !== selected &&
    other.thread.id !== selected &&
    one.beam === other.beam &&
    one.thread.place === other.thread.place &&
    one.thread.state === other.thread.state &&
    one.thread.where === other.thread.where;
  for (const row of rows) {
    const run = runs.at(-1);
    if (run?.[0] && alike(run[0], row)) run.push(row);
    else runs.push([row]);
  }
  return runs;
}

/** The right beams: a tooth a strand, in the order of the numbers, with the empty numbers folded between. */
function combsOf(beams: Beam[], groups: Group[], from: number): Comb[] {
  let y = from;
  const strands = groups.flatMap((group) => group.strands);
  return beams.map((beam) => {
    const start = y;
    const teeth: Tooth[] = [];
    const place = (label: string, empty: boolean) => {
      teeth.push({ label, y: y + ROW / 2, empty });
      y += ROW;
      return y - ROW / 2;
    };
    const own = strands.filter((strand) => strand.beam === beam);
    const least = (strand: Strand) => Math.min(...strand.threads.map((thread) => thread.slot ?? 1e9));
    own.sort((one, other) => least(one) - least(other));
    const used = new Set(beam.threads.map((thread) => thread.slot).filter((slot) => slot !== null));
    let next = beam.first;
    for (const strand of own) {
      const slots = strand.threads.map((thread) => thread.slot).filter((slot) => slot !== null);
      slots.sort((one, other) => one - other);
      const [lowest] = slots;
      if (lowest !== undefined && beam.last !== null && lowest > next)
        emptyTeeth(next, lowest - 1, used, place);
      strand.to = place(
        slots.length > 0 ? spans(slots) : "–",
        strand.threads.every((one) => LOOSE.has(one.state)),
      );
      next = Math.max(next, (slots.at(-1) ?? next - 1) + 1);
    }
    if (beam.last !== null) emptyTeeth(next, beam.last, used, place);
    y = Math.max(y, start + 2 * ROW);
    const comb = { beam, from: start, to: y, teeth };
    y += GAP;
    return comb;
  });
}

function emptyTeeth(
  first: number,
  last: number,
  used: Set<number>,
  place: (label: string, empty: boolean) => unknown,
) {
  const free = [];
  for (let at = first; at <= last; at++) if (!used.has(at)) free.push(at);
  if (free.length > 0) place(`${spans(free)} empty`, true);
}

/** Numbers as people say them: 1–4, 7. */
export function spans(numbers: number[]): string {
  const runs: [number, number][] = [];
  for (const number of numbers) {
    const last = runs.at(-1);
    if (last && number <= last[1] + 1) last[1] = number;
    else runs.push([number, number]);
  }
  const shown = runs.slice(0, 3).map(([first, last]) => (first === last ? `${first}` : `${first}–${last}`));
  return runs.length > 3 ? `${shown.join(", ")} …` : shown.join(", ");
}

import type { Schemas } from "../../api/client";
import type { MarkName } from "../../parts/Mark";

export type State = Schemas["Thread"]["state"];

/** What each state of a link is called and how it is drawn, the open ones first. */
export const STATES: Record<
  State,
  { word: string; mark: MarkName; colour: string; dash?: string; width: number }
> = {
  impossible: { word: "cannot be made", mark: "cut", colour: "var(--red)", width: 1.75 },
  broken: { word: "broken", mark: "broken", colour: "var(--red)", width: 2 },
  doubtful: { word: "doubtful", mark: "off", colour: "var(--brass-fill)", width: 2 },
  waiting: { word: "waiting", mark: "loose", colour: "var(--brass-fill)", width: 1.75 },
  ready: { word: "ready", mark: "planned", colour: "var(--slate)", dash: "4 3", width: 1.5 },
  tied: { word: "tied", mark: "set", colour: "var(--kelp)", width: 1.5 },
  proven: { word: "proven", mark: "proven", colour: "var(--kelp)", width: 2.25 },
};
export const LOOSE: ReadonlySet<State> = new Set<State>(["waiting", "impossible"]);

/** How far a link is, in a word; one that somebody wishes for although it cannot be made is wanted. */
export function stateWord(thread: { state: State; wanted: boolean }): string {
  return thread.state === "impossible" && thread.wanted ? "wanted" : STATES[thread.state].word;
}

/** Which number a link has at its target, in words. */
export function seatWord(word: string | null, slot: number | null): string {
  if (word === null) return "";
  return slot === null ? `no ${word}` : `${word} ${slot}`;
}

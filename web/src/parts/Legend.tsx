import { type MarkName, State } from "./Mark";

export type LegendEntry = readonly [mark: MarkName, word: string, number: number];

/** What a sheet shows, with how many of each; what does not occur is left out. */
export function Legend({ label, entries }: { label: string; entries: readonly LegendEntry[] }) {
  return (
    <ul className="flex flex-wrap gap-x-4 gap-y-0.5 text-small" aria-label={label}>
      {entries
        .filter(([, , number]) => number > 0)
        .map(([mark, word, number]) => (
          <li key={word} className="flex items-center gap-1.5">
            <State name={mark}>{word}</State>
            <b className="font-mono font-semibold">{number}</b>
          </li>
        ))}
    </ul>
  );
}

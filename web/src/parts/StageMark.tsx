import type { Schemas } from "../api/client";
import { Mark } from "./Mark";

type Row = Schemas["StageRow"];

export const MARKS = {
  "not-begun": { name: "unread", word: "not begun" },
  done: { name: "set", word: "nothing open" },
  proven: { name: "proven", word: "proven" },
} as const;

/**
 * How many things are open at a stage, else its mark; a filled one stands for what was measured. `below` the word of the
 * stage it says what the number counts.
 */
export function StageMark({ row, below = false }: { row: Row | undefined; below?: boolean }) {
  if (!row) return null;
  if (row.mark === "open")
    return (
      <span className={`font-mono font-semibold text-ink-2 ${below ? "text-cell" : "text-note"}`}>
        {row.open}
        <span className={below ? "font-sans font-normal" : "sr-only"}> open</span>
      </span>
    );
  const { name, word } = MARKS[row.mark];
  return <Mark name={name} size={14} word={word} />;
}

import type { Schemas } from "../api/client";
import { Mark } from "./Mark";

type Row = Schemas["StageRow"];

export const MARKS = {
  "not-begun": { name: "unread", word: "not begun" },
  done: { name: "set", word: "nothing open" },
  proven: { name: "proven", word: "proven" },
} as const;

/** How many things are open at a stage, else its mark; a filled one stands for what was measured. */
export function StageMark({ row }: { row: Row | undefined }) {
  if (!row) return null;
  if (row.mark === "open")
    return (
      <span className="font-mono text-note font-semibold text-ink-2">
        {row.open}
        <span className="sr-only"> open</span>
      </span>
    );
  const { name, word } = MARKS[row.mark];
  return <Mark name={name} size={14} word={word} />;
}

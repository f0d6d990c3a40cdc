import { type ReactNode, useState } from "react";
import type { Schemas } from "../../api/client";
import { Mark, type MarkName } from "../../parts/Mark";

type Row = Schemas["NoteRow"];
const ACTIONS: Record<Row["action"], [MarkName, string]> = {
  add: ["set", "added"],
  change: ["off", "changed"],
  same: ["planned", "stays"],
  skip: ["unread", "left out"],
  refuse: ["broken", "refused"],
};

/** One row of the note as it was read, to be put right before anything is stored. */
export function RowForm({
  cells,
  fields,
  known,
  keep,
}: {
  cells: string[];
  fields: (string | null)[];
  known: Record<string, string>;
  keep: (cells: string[]) => void;
}) {
  const [typed, setTyped] = useState(cells);
  return (
    <form
      className="mt-2 flex flex-wrap items-end gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        keep(typed);
      }}
    >
      {fields.map(
        (field, at) =>
          field && (
            <label key={field} className="grid gap-1 text-small">
              {known[field]}
              <input
                className="box w-40"
                value={typed[at] ?? ""}
                onChange={(event) => {
                  const next = Array.from(
                    { length: Math.max(typed.length, at + 1) },
                    (_, to) => typed[to] ?? "",
                  );
                  next[at] = event.target.value;
                  setTyped(next);
                }}
              />
            </label>
          ),
      )}
      <button type="submit" className="btn">
        Read it again
      </button>
    </form>
  );
}

/** What will happen to each row, the refused ones first. */
export function Outcome({
  rows,
  left,
  leave,
  form,
}: {
  rows: Row[];
  left: Set<number>;
  leave: (line: number) => void;
  form: (line: number) => ReactNode;
}) {
  const [open, setOpen] = useState<number | null>(null);
  const counts = (["add", "change", "same", "refuse", "skip"] as const)
    .map((action) => [action, rows.filter((row) => row.action === action).length] as const)
    .filter(([, number]) => number > 0);
  const order = [...rows].sort((one, other) => rank(one) - rank(other) || one.line - other.line);
  return (
    <section aria-label="What will happen">
      <p className="flex flex-wrap gap-x-5 font-semibold" aria-live="polite">
        {counts.map(([action, number]) => (
          <span key={action} className="flex items-center gap-2">
            <Mark name={ACTIONS[action][0]} /> {number} {ACTIONS[action][1]}
          </span>
        ))}
      </p>
      <ol className="mt-2 max-h-72 overflow-auto border-y border-hair text-list" tabIndex={0}>
        {order.slice(0, 300).map((row) => (
          <li key={row.line} className="flex items-start gap-3 border-b border-hair py-1.5 last:border-0">
            <span className="w-14 shrink-0 text-ink-2">row {row.line}</span>
            <span className="mt-0.5">
              <Mark name={ACTIONS[row.action][0]} word={ACTIONS[row.action][1]} />
            </span>
            <span className={`min-w-0 flex-1 ${left.has(row.line) ? "text-ink-2 line-through" : ""}`}>
              {row.sentence}
              {open === row.line && form(row.line)}
            </span>
            <button
              type="button"
              className="shrink-0 text-small underline underline-offset-4"
              aria-expanded={open === row.line}
              onClick={() => setOpen(open === row.line ? null : row.line)}
            >
              {open === row.line ? "Close" : "Correct"}
            </button>
            {["add", "change", "refuse"].includes(row.action) && (
              <label className="flex shrink-0 items-center gap-2 text-small">
                <input type="checkbox" checked={left.has(row.line)} onChange={() => leave(row.line)} />
                leave out
              </label>
            )}
          </li>
        ))}
        {order.length > 300 && <li className="py-1.5 text-ink-2">and {order.length - 300} more.</li>}
      </ol>
    </section>
  );
}

function rank(row: Row): number {
  return { refuse: 0, change: 1, add: 2, same: 3, skip: 4 }[row.action];
}

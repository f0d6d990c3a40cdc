import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { asBytes, ask, client, type Schemas } from "../../api/client";
import { useChange, useSiteKey } from "../../api/site";
import { LargeDialog } from "../../parts/Dialog";
import { Trouble } from "../../parts/Feedback";
import { Mark, type MarkName } from "../../parts/Mark";
import { TableSource } from "../../parts/TableSource";
import { COLUMNS, type Sheet } from "./columns";
import { pushUndo } from "./useEdits";

type Note = Schemas["Note"];
type Row = Schemas["NoteRow"];
const ENCODING_WORDS: Record<string, string> = {
  cp1252: "Western Windows",
  mac_roman: "Western Mac",
  cp1250: "Central European",
};
const ACTIONS: Record<Row["action"], [MarkName, string]> = {
  add: ["set", "added"],
  change: ["off", "changed"],
  same: ["planned", "stays"],
  skip: ["unread", "empty"],
  refuse: ["broken", "refused"],
};
const DEFAULTS = COLUMNS.filter((column) =>
  ["model", "place", "network", "addressing"].includes(column.field),
);

/** A delivery note as it came: which column is what, what will happen to each row, then all of it at once. */
export function DeliveryNote({ sheet, close }: { sheet: Sheet; close: () => void }) {
  const [content, setContent] = useState<Blob | null>(null);
  const [note, setNote] = useState<Note | null>(null);
  const read = useChange((key, { blob, encoding }: { blob: Blob; encoding?: string }) =>
    ask(
      client.POST("/api/sites/{key}/kit/note", {
        params: { path: { key }, query: encoding ? { encoding } : {} },
        ...asBytes(blob),
      }),
    ),
  );
  function take(blob: Blob, encoding?: string) {
    setContent(blob);
    read.mutate(encoding ? { blob, encoding } : { blob }, { onSuccess: setNote });
  }
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was pasted is read once, when the slip opens
  useEffect(() => {
    const pasted = sessionStorage.getItem("tutelar.pasted");
    if (!pasted) return;
    sessionStorage.removeItem("tutelar.pasted");
    take(new Blob([pasted]));
  }, []);
  return (
    <LargeDialog title="Bring in a delivery note" close={close} wide>
      {read.error && (
        <div className="mt-3">
          <Trouble error={read.error} />
        </div>
      )}
      {note ? (
        <Matching
          key={note.rows.length + (note.rows[0]?.join() ?? "")}
          sheet={sheet}
          note={note}
          close={close}
          again={() => setNote(null)}
          encode={content ? (encoding) => take(content, encoding) : undefined}
        />
      ) : (
        <TableSource
          file="A file: CSV or XLSX, with any headings"
          text="Or the table, copied from a spreadsheet or an e-mail"
          go="Read the table"
          accept=".csv,.tsv,.txt,.xlsx,text/csv"
          busy={read.isPending}
          take={(blob) => take(blob)}
        />
      )}
    </LargeDialog>
  );
}

function Matching({
  sheet,
  note,
  close,
  again,
  encode,
}: {
  sheet: Sheet;
  note: Note;
  close: () => void;
  again: () => void;
  encode: ((encoding: string) => void) | undefined;
}) {
  const site = useSiteKey();
  const [fields, setFields] = useState(note.fields);
  const [heads, setHeads] = useState(note.heads);
  const [defaults, setDefaults] = useState<Record<string, string>>({});
  const [left, setLeft] = useState<Set<number>>(new Set());
  const body = note.rows
    .map((cells, at) => ({ line: at + 1, cells }))
    .filter((row) => (heads === null || row.line > heads + 1) && row.cells.some(Boolean));
  const asked: Schemas["NoteRows"] = { fields, rows: body, defaults: defaults as Schemas["Defaults"] };
  const preview = useQuery({
    queryKey: ["site", site, "note-preview", asked],
    queryFn: () =>
      ask(client.POST("/api/sites/{key}/kit/preview", { params: { path: { key: site } }, body: asked })),
    placeholderData: (before) => before,
    retry: false,
  });
  const bring = useChange((key, wanted: Schemas["NoteImport"]) =>
    ask(client.POST("/api/sites/{key}/kit/import", { params: { path: { key } }, body: wanted })),
  );
  const rows = preview.data?.rows ?? [];
  const refused = rows.filter((row) => row.action === "refuse" && !left.has(row.line));
  const doing = rows.filter((row) => ["add", "change"].includes(row.action) && !left.has(row.line));
  const leave = (line: number) => {
    const next = new Set(left);
    if (!next.delete(line)) next.add(line);
    setLeft(next);
  };
  return (
    <div className="mt-3 grid gap-4">
      <div className="flex flex-wrap items-end gap-3">
        <label className="grid gap-1 text-small">
          Headings stand in row
          <select
            className="box"
            value={heads ?? ""}
            onChange={(event) => setHeads(event.target.value === "" ? null : Number(event.target.value))}
          >
            <option value="">there are none</option>
            {note.rows.slice(0, 30).map((row, at) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: rows of a note have no other name than their number
              <option key={at} value={at}>
                {at + 1}: {row.filter(Boolean).slice(0, 3).join(", ").slice(0, 40)}
              </option>
            ))}
          </select>
        </label>
        {DEFAULTS.map((column) => (
          <label key={column.field} className="grid gap-1 text-small">
            {column.head}, where none stands
            <select
              className="box max-w-52"
              value={defaults[column.field] ?? ""}
              onChange={(event) => setDefaults({ ...defaults, [column.field]: event.target.value })}
            >
              <option value="">leave open</option>
              {column
                .choices?.(sheet)
                .filter((choice) => choice.value && !choice.value.startsWith("behind "))
                .map((choice) => (
                  <option key={choice.value} value={choice.value}>
                    {choice.word}
                  </option>
                ))}
            </select>
          </label>
        ))}
        {encode && (
          <label className="grid gap-1 text-small">
            Letters look wrong?
            <select className="box" value="" onChange={(event) => encode(event.target.value)}>
              <option value="" disabled>
                read as …
              </option>
              {note.encodings.map((encoding) => (
                <option key={encoding} value={encoding}>
                  {ENCODING_WORDS[encoding] ?? encoding}
                </option>
              ))}
            </select>
          </label>
        )}
        <button type="button" className="btn" onClick={again}>
          Another table
        </button>
      </div>
      <Columns note={note} heads={heads} fields={fields} setFields={setFields} first={body[0]?.line ?? 1} />
      {(preview.error ?? bring.error) && <Trouble error={(preview.error ?? bring.error) as Error} />}
      <Outcome rows={rows} left={left} leave={leave} />
      <div className="flex flex-wrap items-center gap-3">
        {refused.length > 0 ? (
          <button
            type="button"
            className="btn"
            onClick={() => setLeft(new Set([...left, ...refused.map((row) => row.line)]))}
          >
            Leave the {refused.length} refused out
          </button>
        ) : (
          <button
            type="button"
            className="btn btn-main"
            disabled={doing.length === 0 || bring.isPending || preview.isFetching}
            onClick={() =>
              bring.mutate(
                {
                  ...asked,
                  rows: body.filter((row) => !left.has(row.line)),
                  revision: preview.data?.revision ?? 0,
                },
                {
                  onSuccess: (done) => {
                    if (done.added.length > 0)
                      pushUndo(site, { words: `${done.added.length} added devices`, remove: done.added });
                    close();
                  },
                },
              )
            }
          >
            {doing.length === 1 ? "Bring in 1 row" : `Bring in ${doing.length} rows`}
          </button>
        )}
        {refused.length > 0 && (
          <p className="text-ink-2">Correct them in the note, choose other columns, or leave them out.</p>
        )}
      </div>
    </div>
  );
}

/** The columns with the first rows under them, and what each holds. */
function Columns({
  note,
  heads,
  fields,
  setFields,
  first,
}: {
  note: Note;
  heads: number | null;
  fields: (string | null)[];
  setFields: (fields: (string | null)[]) => void;
  first: number;
}) {
  const sample = note.rows.slice(first - 1, first + 2);
  return (
    <section className="overflow-x-auto" aria-label="Columns" tabIndex={0}>
      <table className="text-small">
        <thead>
          <tr>
            {fields.map((field, at) => {
              const head = (heads === null ? "" : note.rows[heads]?.[at]) || `Column ${at + 1}`;
              return (
                // biome-ignore lint/suspicious/noArrayIndexKey: columns of a note have no other name than their number
                <th key={at} scope="col" className="pr-3 pb-1 text-left font-semibold">
                  <label className="grid gap-0.5">
                    <span className="max-w-40 truncate">{head}</span>
                    <select
                      className="box min-h-9 text-small font-normal"
                      value={field ?? ""}
                      onChange={(event) =>
                        setFields(
                          fields.map((old, index) =>
                            index === at
                              ? event.target.value || null
                              : old === event.target.value
                                ? null
                                : old,
                          ),
                        )
                      }
                    >
                      <option value="">not needed</option>
                      {Object.entries(note.known).map(([name, word]) => (
                        <option key={name} value={name}>
                          {word}
                        </option>
                      ))}
                    </select>
                  </label>
                </th>
              );
            })}
          </tr>
        </thead>
        <tbody>
          {sample.map((row, down) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: see above
            <tr key={down} className="border-t border-hair">
              {fields.map((_, at) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: see above
                <td key={at} className="max-w-44 truncate py-1 pr-3 font-mono">
                  {row[at]}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** What will happen to each row, the refused ones first. */
function Outcome({ rows, left, leave }: { rows: Row[]; left: Set<number>; leave: (line: number) => void }) {
  const counts = (["add", "change", "same", "refuse"] as const)
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
            </span>
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

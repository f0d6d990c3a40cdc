import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { asBytes, ask, client, type Schemas } from "../../api/client";
import { useChange, useSiteKey } from "../../api/site";
import { LargeDialog } from "../../parts/Dialog";
import { Trouble } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";
import { TableSource } from "../../parts/TableSource";
import { COLUMNS, type Sheet } from "./columns";
import { Outcome, RowForm } from "./NoteOutcome";
import { pushUndo } from "./useEdits";

type Note = Schemas["Note"];
const ENCODING_WORDS: Record<string, string> = {
  cp1252: "Western Windows",
  mac_roman: "Western Mac",
  cp1250: "Central European",
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
    <LargeDialog title="Import a delivery note" close={close} wide>
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
  const [edits, setEdits] = useState<Record<number, string[]>>({});
  const body = note.rows
    .map((cells, at) => ({ line: at + 1, cells: edits[at + 1] ?? cells }))
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
      {note.before && (
        <p role="status" className="flex items-start gap-2 border-l-4 border-brass-fill pl-3">
          <Mark name="off" /> {note.before} Rows without a serial number or hardware address would be added
          once more.
        </p>
      )}
      <Outcome
        rows={rows}
        left={left}
        leave={leave}
        form={(line) => (
          <RowForm
            key={line}
            cells={edits[line] ?? note.rows[line - 1] ?? []}
            fields={fields}
            known={note.known}
            keep={(cells) => setEdits({ ...edits, [line]: cells })}
          />
        )}
      />
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
                  digest: note.digest,
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
            {doing.length === 1 ? "Import 1 row" : `Import ${doing.length} rows`}
          </button>
        )}
        {refused.length > 0 && (
          <p className="text-ink-2">Correct them here, choose other columns, or leave them out.</p>
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
                      className="box min-h-9 max-md:min-h-11 text-small font-normal"
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

import { useState } from "react";
import { asBytes, ask, client, type Schemas } from "../../api/client";
import { useChange } from "../../api/site";
import { LargeDialog } from "../../parts/Dialog";
import { Trouble } from "../../parts/Feedback";
import { Mark, type MarkName } from "../../parts/Mark";
import { TableSource } from "../../parts/TableSource";
import { useTruncated } from "../../parts/useTruncated";

type Row = Schemas["TableRow"];
const ACTIONS: Record<Row["action"], [MarkName, string]> = {
  refuse: ["broken", "refused"],
  add: ["planned", "new"],
  change: ["off", "changes"],
  same: ["set", "stands so"],
  skip: ["unread", "empty"],
};

/** Links from a table: every row says what becomes of it before anything is stored. */
export function LinkTable({ close }: { close: () => void }) {
  const [content, setContent] = useState<Blob | null>(null);
  const preview = useChange((key, body: Blob) =>
    ask(client.POST("/api/sites/{key}/links/table", { params: { path: { key } }, ...asBytes(body) })),
  );
  const bring = useChange(
    (key, { body, revision, leave_out }: { body: Blob; revision: number; leave_out: boolean }) =>
      ask(
        client.POST("/api/sites/{key}/links/import", {
          params: { path: { key }, query: { revision, leave_out } },
          ...asBytes(body),
        }),
      ),
  );
  const found = preview.data;
  const refused = found?.rows.filter((row) => row.action === "refuse").length ?? 0;
  const fresh = found?.rows.filter((row) => row.action === "add" || row.action === "change").length ?? 0;
  return (
    <LargeDialog title="Links from a table" close={close} wide>
      {preview.error && <Trouble error={preview.error} />}
      {!found && (
        <TableSource
          file="A table with the columns Link, From, To and Number"
          text="Or the table, pasted"
          go="Read the table"
          accept=".csv,.txt,.xlsx,text/csv"
          busy={preview.isPending}
          take={(blob) => {
            setContent(blob);
            preview.mutate(blob);
          }}
        />
      )}
      {found && (
        <div className="mt-3 grid gap-3">
          {found.strange.length > 0 && (
            <p className="text-small text-ink-2">Not read: {found.strange.join(", ")}.</p>
          )}
          <Rows
            rows={[...found.rows].sort((one, other) => rank(one) - rank(other) || one.line - other.line)}
          />
          {bring.error && <Trouble error={bring.error} />}
          {bring.data ? (
            <p className="font-semibold" role="status">
              {bring.data.added} added, {bring.data.changed} changed, {bring.data.left_out} left out.
            </p>
          ) : (
            <p className="flex flex-wrap items-center gap-3">
              <button
                type="button"
                className="btn btn-main"
                disabled={fresh === 0 || bring.isPending}
                onClick={() =>
                  content && bring.mutate({ body: content, revision: found.revision, leave_out: refused > 0 })
                }
              >
                {refused > 0
                  ? `Import ${fresh}, leave ${refused} out`
                  : `Import ${fresh} ${fresh === 1 ? "link" : "links"}`}
              </button>
              <button type="button" className="btn" onClick={() => preview.reset()}>
                Another table
              </button>
            </p>
          )}
        </div>
      )}
    </LargeDialog>
  );
}

function rank(row: Row): number {
  return row.action === "refuse" ? 0 : row.action === "skip" ? 2 : 1;
}

function Rows({ rows }: { rows: Row[] }) {
  const [shown, more] = useTruncated(rows, 100);
  return (
    <section
      className="max-h-[55vh] overflow-auto border-t-2 border-ink"
      tabIndex={0}
      aria-label="What becomes of each row"
    >
      <ul className="text-list">
        {shown.map((row) => (
          <li key={row.line} className="flex gap-3 border-b border-hair py-1">
            <span className="w-16 shrink-0 text-ink-2">row {row.line}</span>
            <span className="flex w-28 shrink-0 items-center gap-2">
              <Mark name={ACTIONS[row.action][0]} />
              {ACTIONS[row.action][1]}
            </span>
            <span className="min-w-0 [overflow-wrap:anywhere]">{row.sentence}</span>
          </li>
        ))}
      </ul>
      {more}
    </section>
  );
}

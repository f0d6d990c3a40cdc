import { useMutation } from "@tanstack/react-query";
import { asBytes, ask, client, type Refused, type Schemas } from "../../api/client";
import { useChange, useSiteKey } from "../../api/site";
import { Trouble } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";
import { TableSource } from "../../parts/TableSource";

const MARKS = { new: "turn", changed: "set", same: "unread", wrong: "broken" } as const;

/** People and cards from a table, with what each row would do before anything is stored. */
export function ImportPeople() {
  const key = useSiteKey();
  const read = useMutation<Schemas["PeoplePreview"], Refused, Blob>({
    mutationFn: (file) =>
      ask(client.POST("/api/sites/{key}/access/table", { params: { path: { key } }, ...asBytes(file) })),
  });
  const bring = useChange<string[][], unknown>((site, table) =>
    ask(client.POST("/api/sites/{key}/access/people", { params: { path: { key: site } }, body: { table } })),
  );
  const rows = read.data?.rows ?? [];
  const counts = (does: string) => rows.filter((row) => row.does === does).length;
  return (
    <details className="mt-2 border-t border-hair">
      <summary className="flex min-h-11 cursor-pointer items-center text-small underline underline-offset-4">
        From a table (CSV, XLSX)
      </summary>
      <p className="text-small text-ink-2">
        The first row names the columns: name, groups, from, until, facility, number, format.
      </p>
      <TableSource
        file="A file"
        text="Or pasted"
        go="Read it"
        accept=".csv,.xlsx,.txt"
        busy={read.isPending}
        take={(blob) => read.mutate(blob)}
      />
      {read.error && <Trouble error={read.error} />}
      {read.data && !bring.isSuccess && (
        <>
          <p className="py-1 text-small font-semibold" aria-live="polite">
            {counts("new")} new, {counts("changed")} changed, {counts("same")} as they stand,{" "}
            {counts("wrong")} wrong
          </p>
          <ul className="max-h-64 overflow-auto text-small">
            {rows
              .filter((row) => row.does !== "same")
              .slice(0, 200)
              .map((row) => (
                <li key={row.line} className="flex items-start gap-2 border-t border-hair py-1">
                  <Mark name={MARKS[row.does]} word={row.does} />
                  <span>
                    <span className="font-mono">{row.line}</span> {row.said}.
                  </span>
                </li>
              ))}
          </ul>
          <button
            type="button"
            className="btn btn-main mt-2"
            disabled={counts("new") + counts("changed") === 0 || bring.isPending}
            onClick={() => bring.mutate(read.data?.table ?? [])}
          >
            Bring {counts("new") + counts("changed")} in
          </button>
        </>
      )}
      {bring.isSuccess && <p className="text-small font-semibold">They are in.</p>}
      {bring.error && <Trouble error={bring.error} />}
    </details>
  );
}

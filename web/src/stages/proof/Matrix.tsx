import { type KeyboardEvent, memo, useEffect, useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { Mark, type MarkName } from "../../parts/Mark";
import { type Band, cellKey, letterOf, type Row, together } from "./matrix";

type Cell = Schemas["ProofRow"];

export const CELL_MARKS: Record<Cell["state"], MarkName> = {
  proven: "proven",
  broken: "broken",
  "not-measured": "unread",
  planned: "planned",
  stale: "off",
  excepted: "left",
};
export const CELL_WORDS: Record<Cell["state"], string> = {
  proven: "proven",
  broken: "broken",
  "not-measured": "not measured",
  planned: "planned, nobody looked yet",
  stale: "stale: something has changed since",
  excepted: "left open by decision",
};
const LOOKS: Record<Cell["state"], string> = {
  proven: "bg-kelp-wash",
  broken: "bg-red-wash",
  "not-measured": "",
  planned: "",
  stale: "bg-brass-wash",
  excepted: "",
};

/** Devices across, checks down, in bands. Arrows walk, Enter opens. */
export const Matrix = memo(function Matrix({
  bands,
  rows,
  cells,
  numbers,
  selected,
  select,
  unfold,
  again,
}: {
  bands: Band[];
  rows: Row[];
  cells: Map<string, Cell>;
  numbers: Map<string, number>;
  selected: string | null;
  select: (device: string, check: string) => void;
  unfold: (protocol: string) => void;
  again: ((check: string) => void) | undefined;
}) {
  const home = selected ?? firstCell(bands, rows, cells);
  const shown = useGrowing(bands, selected);
  return (
    <div className="grid grid-cols-1 gap-4">
      {bands.slice(0, shown).map((band, at) => (
        <div key={band.columns[0]?.key} className="min-w-0">
          <BandTable
            band={band}
            number={at + 1}
            rows={rows}
            cells={cells}
            numbers={numbers}
            selected={isIn(band, selected) ? selected : null}
            home={isIn(band, home) ? home : null}
            select={select}
            unfold={unfold}
            again={again}
          />
        </div>
      ))}
    </div>
  );
});

function isIn(band: Band, key: string | null): boolean {
  return key !== null && band.columns.some((column) => key.startsWith(`${column.key} `));
}

const AT_FIRST = 4;

/** How many bands are drawn: a few at once, the rest of a large site a few at a time; the selected one always. */
function useGrowing(bands: Band[], selected: string | null): number {
  const [drawn, setDrawn] = useState(AT_FIRST);
  const needed = bands.findIndex((band) => isIn(band, selected)) + 1;
  useEffect(() => {
    if (drawn >= bands.length) return;
    const timer = setTimeout(() => setDrawn(drawn + AT_FIRST), 0);
    return () => clearTimeout(timer);
  }, [drawn, bands.length]);
  return Math.max(drawn, needed);
}

function firstCell(bands: Band[], rows: Row[], cells: Map<string, Cell>): string | null {
  for (const column of bands[0]?.columns ?? [])
    for (const row of rows)
      if (row.kind === "check" && cells.has(cellKey(column.key, row.check.check)))
        return cellKey(column.key, row.check.check);
  return null;
}

const BandTable = memo(function BandTable({
  band,
  number,
  rows: all,
  cells,
  numbers,
  selected,
  home,
  select,
  unfold,
  again,
}: {
  band: Band;
  number: number;
  rows: Row[];
  cells: Map<string, Cell>;
  numbers: Map<string, number>;
  selected: string | null;
  home: string | null;
  select: (device: string, check: string) => void;
  unfold: (protocol: string) => void;
  again: ((check: string) => void) | undefined;
}) {
  const table = useRef<HTMLTableElement>(null);
  const asks = ({ check }: Schemas["CheckRow"]) =>
    band.columns.some((column) => cells.has(cellKey(column.key, check)));
  const rows = all.filter((row) => (row.kind === "check" ? asks(row.check) : row.checks.some(asks)));

  function walk(event: KeyboardEvent) {
    const moves: Record<string, [number, number]> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, -1],
      ArrowDown: [0, 1],
    };
    const move = moves[event.key];
    const from = (event.target as HTMLElement).dataset;
    if (!move || from.x === undefined) return;
    event.preventDefault();
    let x = Number(from.x) + move[0];
    let y = Number(from.y) + move[1];
    for (; x >= 0 && y >= 0 && x < band.columns.length && y < rows.length; x += move[0], y += move[1]) {
      const next = table.current?.querySelector<HTMLElement>(`[data-x="${x}"][data-y="${y}"]`);
      if (next) {
        next.focus();
        return;
      }
    }
  }
  return (
    <section
      tabIndex={0}
      style={{ containIntrinsicSize: `auto calc(56px + ${rows.length} * var(--cell))` }}
      aria-label={`Readings, part ${number}: ${band.places.map((place) => place.place).join(", ")}`}
      className="overflow-x-auto [--cell:24px] max-md:[--cell:44px] [content-visibility:auto]"
    >
      <table ref={table} className="border-collapse text-list" onKeyDown={walk}>
        <thead>
          <tr>
            <td />
            {band.places.map((place) => (
              <th
                key={place.columns[0]?.key}
                scope="colgroup"
                colSpan={place.columns.length}
                className="border-r-12 border-paper p-0 text-left text-small font-semibold"
              >
                <span
                  className="flex justify-between gap-1 overflow-hidden border-b-2 border-ink pb-0.5 whitespace-nowrap"
                  style={{ maxWidth: `calc(${place.columns.length} * var(--cell) + 12px)` }}
                >
                  <span className="truncate">{place.place}</span>
                  {place.columns.length > 3 && (
                    <span className="font-normal text-ink-2">
                      {place.proven} of {place.columns.length}
                    </span>
                  )}
                </span>
              </th>
            ))}
          </tr>
          <tr>
            <td />
            {band.columns.map((column) => (
              <th
                key={column.key}
                scope="col"
                title={`${column.name} · ${column.address ?? "no address"}`}
                className={`w-6 min-w-6 max-md:w-11 max-md:min-w-11 pt-1 text-center text-note leading-4 font-semibold ${
                  column.state === "broken" ? "bg-red text-on-fill" : ""
                }`}
              >
                <span className="sr-only">{column.name}</span>
                <span aria-hidden="true">
                  <span className="block font-normal">{letterOf(column.family)}</span>
                  {numbers.get(column.key)}
                </span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, y) => {
            if (row.kind === "fold")
              return (
                <FoldedRow
                  key={row.protocol}
                  row={row}
                  band={band}
                  cells={cells}
                  unfold={() => unfold(row.protocol)}
                />
              );
            const { check, title, witnessed } = row.check;
            const found = band.columns.map((column) => cells.get(cellKey(column.key, check)));
            const asked = found.filter((cell) => cell !== undefined);
            return (
              <tr key={check}>
                <th
                  scope="row"
                  className="h-6 w-46 min-w-46 pr-2 text-left font-normal whitespace-nowrap max-md:w-30 max-md:min-w-30 max-md:whitespace-normal"
                >
                  {title}
                </th>
                {found.map((cell, x) => {
                  const column = band.columns[x];
                  if (!column) return null;
                  if (!cell) return <td key={column.key} className="size-6 max-md:size-11" />;
                  const key = cellKey(cell.device, check);
                  return (
                    <td
                      key={column.key}
                      className={`size-6 border max-md:size-11 border-paper p-0 ${LOOKS[cell.state]} ${
                        key === selected ? "outline-[3px] -outline-offset-1 outline-ink" : ""
                      }`}
                    >
                      <button
                        type="button"
                        data-x={x}
                        data-y={y}
                        data-shortcuts=""
                        tabIndex={key === home ? 0 : -1}
                        aria-pressed={key === selected}
                        aria-label={`${column.name}, ${title}: ${CELL_WORDS[cell.state]}`}
                        onClick={() => select(cell.device, check)}
                        className="grid size-6 max-md:size-11 scroll-mt-28 scroll-mb-[52vh] place-items-center"
                      >
                        {cell.state === "proven" ? <PaleTick /> : <Mark name={CELL_MARKS[cell.state]} />}
                      </button>
                    </td>
                  );
                })}
                <td className="pl-3 text-small whitespace-nowrap">
                  <span className="inline-block min-w-16">
                    <b>{asked.filter((cell) => cell.state === "proven").length}</b>{" "}
                    <span className="text-ink-2">of {asked.length}</span>
                  </span>
                  {again && !witnessed && (
                    <button
                      type="button"
                      className="ml-2 inline-grid size-6 max-md:size-11 place-items-center align-middle text-ink-2 hover:text-ink"
                      title={`Measure again everywhere: ${title}`}
                      aria-label={`Measure again everywhere: ${title}`}
                      onClick={() => again(check)}
                    >
                      <Again />
                    </button>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
});

/** Checks of one protocol that are proven wherever they are asked, as one row. */
function FoldedRow({
  row,
  band,
  cells,
  unfold,
}: {
  row: Extract<Row, { kind: "fold" }>;
  band: Band;
  cells: Map<string, Cell>;
  unfold: () => void;
}) {
  const asked = band.columns.map((column) =>
    row.checks.map(({ check }) => cells.get(cellKey(column.key, check))).filter((cell) => cell !== undefined),
  );
  const all = asked.flat();
  return (
    <tr>
      <th
        scope="row"
        className="h-6 w-46 min-w-46 pr-2 text-left font-normal whitespace-nowrap max-md:w-30 max-md:min-w-30 max-md:whitespace-normal"
      >
        <button
          type="button"
          aria-expanded={row.open}
          className="flex h-6 w-full items-center gap-1.5 underline decoration-dotted underline-offset-4 max-md:h-11"
          onClick={unfold}
        >
          <span aria-hidden="true" className={`inline-block text-ink-2 ${row.open ? "rotate-90" : ""}`}>
            ▸
          </span>
          {row.protocol}: {row.checks.length} checks
        </button>
      </th>
      {band.columns.map((column, at) => {
        const state = together(asked[at] ?? []);
        if (!state || row.open) return <td key={column.key} className="size-6 max-md:size-11" />;
        const word = `${column.name}, ${row.protocol}: ${CELL_WORDS[state]}`;
        return (
          <td
            key={column.key}
            className={`size-6 border border-paper p-0 max-md:size-11 ${LOOKS[state]}`}
            title={word}
          >
            <span className="grid place-items-center">
              <span className="sr-only">{word}</span>
              {state === "proven" ? <PaleTick /> : <Mark name={CELL_MARKS[state]} />}
            </span>
          </td>
        );
      })}
      <td className="pl-3 text-small whitespace-nowrap">
        <b>{all.filter((cell) => cell.state === "proven").length}</b>{" "}
        <span className="text-ink-2">of {all.length}</span>
      </td>
    </tr>
  );
}

function PaleTick() {
  return (
    <svg viewBox="0 0 16 16" width="16" height="16" aria-hidden="true" className="text-kelp">
      <path d="M3.5 8.3 6.7 11.4 12.5 4.8" stroke="currentColor" strokeWidth="2" fill="none" />
    </svg>
  );
}

function Again() {
  return (
    <svg viewBox="0 0 16 16" width="14" height="14" aria-hidden="true">
      <path d="M13.2 8.4A5.2 5.2 0 1 1 11.4 4" stroke="currentColor" strokeWidth="1.8" fill="none" />
      <path d="M9 4.6h3.6V1" stroke="currentColor" strokeWidth="1.8" fill="none" />
    </svg>
  );
}

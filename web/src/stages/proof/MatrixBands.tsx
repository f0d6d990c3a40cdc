import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { Forms } from "../../parts/Files";
import { CellSlip } from "./CellSlip";
import { Matrix } from "./Matrix";
import { bandsOf, byKey, cellKey, letterWords, numbered, rowsOf } from "./matrix";

type Sheet = Schemas["ProofSheet"];

export type Again = ((devices: string[] | null, checks?: string[]) => void) | undefined;
const SHOWN: [string, string, Schemas["ProofRow"]["state"][]][] = [
  ["", "all devices", []],
  ["broken", "what is broken", ["broken"]],
  ["stale", "what is stale", ["stale"]],
  ["never", "what nobody looked at yet", ["planned", "not-measured"]],
  ["excepted", "what is left open", ["excepted"]],
];

export function MatrixBands({ sheet: whole, again }: { sheet: Sheet; again: Again }) {
  const [search, setSearch] = useSearchParams();
  const shown = search.get("show") ?? "";
  const states = SHOWN.find(([key]) => key === shown)?.[2] ?? [];
  const sheet = useMemo(() => {
    if (states.length === 0) return whole;
    const wanted = new Set(
      whole.cells.filter((item) => states.includes(item.state)).map((item) => item.device),
    );
    return { ...whole, columns: whole.columns.filter((column) => wanted.has(column.key)) };
  }, [whole, states]);
  const device = search.get("device");
  const check = search.get("check");
  const selected = device && check ? cellKey(device, check) : null;
  const wide = useColumns();
  const bands = useMemo(() => bandsOf(sheet.columns, wide), [sheet.columns, wide]);
  const cells = useMemo(() => byKey(sheet.cells), [sheet.cells]);
  const numbers = useMemo(() => numbered(whole.columns), [whole.columns]);
  const select = useCallback(
    (key: string, name: string) =>
      setSearch({ device: key, check: name, ...(shown ? { show: shown } : {}) }, { replace: true }),
    [setSearch, shown],
  );
  const [unfolded, setUnfolded] = useState<Set<string>>(new Set());
  const looked = sheet.checks.find((item) => item.check === check)?.protocol;
  const rows = useMemo(
    () => rowsOf(sheet.checks, whole.cells, looked ? new Set([...unfolded, looked]) : unfolded),
    [sheet.checks, whole.cells, unfolded, looked],
  );
  const unfold = useCallback(
    (protocol: string) =>
      setUnfolded((before) => {
        const next = new Set(before);
        if (!next.delete(protocol)) next.add(protocol);
        return next;
      }),
    [],
  );
  const latest = useRef(again);
  latest.current = again;
  const row = useCallback((check: string) => latest.current?.(null, [check]), []);
  const cell = selected ? cells.get(selected) : undefined;
  useEffect(() => {
    if (selected) document.querySelector('table [aria-pressed="true"]')?.scrollIntoView({ block: "nearest" });
  }, [selected]);
  return (
    <>
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1 pb-1 text-small">
        <label className="flex items-center gap-2">
          Show
          <select
            className="box min-h-9 max-md:min-h-11 text-small"
            value={shown}
            onChange={(event) =>
              setSearch(event.target.value ? { show: event.target.value } : {}, { replace: true })
            }
          >
            {SHOWN.map(([key, word]) => (
              <option key={key} value={key}>
                {word}
              </option>
            ))}
          </select>
        </label>
        {shown && sheet.columns.length > 0 && again && (
          <button
            type="button"
            className="min-h-11 underline underline-offset-4"
            onClick={() => again(sheet.columns.map((column) => column.key))}
          >
            Measure these {sheet.columns.length} again
          </button>
        )}
        <b className="font-semibold">{whole.coverage.sentence}</b>
        <span className="md:ml-auto">
          <Forms name="proof" title="Proof" endings={["pdf", "xlsx", "csv", "json"]} />
        </span>
      </div>
      {sheet.columns.length === 0 && <p className="py-6 text-ink-2">No device is like that.</p>}
      <p className="pb-1 text-note text-ink-2">{letterWords(sheet.columns)}</p>
      <Matrix
        bands={bands}
        rows={rows}
        cells={cells}
        numbers={numbers}
        selected={selected}
        select={select}
        unfold={unfold}
        again={again && row}
      />
      {cell && (
        <div className="sticky -bottom-6 z-10 max-h-[48vh] overflow-auto shadow-[0_-6px_16px_rgb(0_0_0/0.12)]">
          <CellSlip
            sheet={sheet}
            cell={cell}
            again={again}
            close={() => setSearch(shown ? { show: shown } : {}, { replace: true })}
          />
        </div>
      )}
    </>
  );
}

/** How many columns of 24 px stand beside the check's name and before the sum; of a finger's 44 px on a phone. */
function useColumns(): number {
  const measure = () =>
    window.innerWidth < 768
      ? Math.max(4, Math.floor((window.innerWidth - 212) / 45.5))
      : Math.floor((Math.min(window.innerWidth, 1600) - 330) / 25.5);
  const [columns, setColumns] = useState(measure);
  useEffect(() => {
    const look = () => setColumns(measure());
    window.addEventListener("resize", look);
    return () => window.removeEventListener("resize", look);
  });
  return columns;
}

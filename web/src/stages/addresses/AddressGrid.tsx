import { type KeyboardEvent, useEffect, useRef, useState } from "react";
import { Mark, type MarkName } from "../../parts/Mark";
import { type Bracket, type Cell, type Fold, foldRows, type Row } from "./cells";

export type Target = { number: number; letter: string };

const DEVICE_MARKS: Record<string, MarkName> = {
  planned: "planned",
  unplanned: "planned",
  set: "set",
  proven: "proven",
  broken: "broken",
  clash: "clash",
};
const KIND_MARKS: Record<string, MarkName> = {
  gateway: "gateway",
  dns: "gateway",
  pool: "leased",
  kept: "kept",
  free: "free",
};
const KIND_WORDS: Record<string, string> = {
  outside: "outside the network",
  edge: "belongs to the network itself",
  gateway: "gateway",
  dns: "DNS server",
  pool: "DHCP pool",
  kept: "kept by IT",
  free: "free",
};
const LOOKS: Record<string, string> = {
  planned: "bg-slate-wash text-slate",
  set: "bg-kelp-wash text-kelp",
  proven: "bg-kelp text-on-fill",
  broken: "bg-red-wash text-red",
  clash: "bg-red-wash text-red outline-2 -outline-offset-2 outline-red",
  gateway: "bg-ink text-paper",
  dns: "bg-ink text-paper",
  pool: "bg-lease-wash text-lease",
  kept: "hatched text-ink-2",
  edge: "bg-wash text-ink-2",
  outside: "invisible",
  free: "text-ink-2",
};

export function cellWord(cell: Cell): string {
  return cell.device ? `${cell.device.name}, ${cell.device.state}` : (KIND_WORDS[cell.kind] ?? cell.kind);
}

/** The octet sheet of one window: arrows walk the cells, Enter opens the one under the cursor. */
export function AddressGrid({
  rows,
  selected,
  select,
  targets,
  label,
  drop,
}: {
  rows: Row[];
  selected: number | null;
  select: (number: number) => void;
  targets: Target[];
  label: string;
  drop: (device: string, number: number) => void;
}) {
  const held = useRef<{ device: string; from: number } | null>(null);
  const [cursor, setCursor] = useState<number | null>(null);
  const grid = useRef<HTMLDivElement>(null);
  const cells = rows.flatMap((row) => row.cells).filter((cell) => cell.kind !== "outside");
  const home = cursor ?? selected ?? cells[0]?.number ?? 0;
  const wide = rows[0]?.cells.length ?? 32;
  const size = wide === 8 ? 34 : 24;
  const shown: (Row | Fold)[] =
    wide === 8
      ? foldRows(
          rows,
          targets.map((target) => target.number),
        )
      : rows;
  useEffect(() => {
    if (cursor !== null) grid.current?.querySelector<HTMLElement>(`[data-number="${cursor}"]`)?.focus();
  }, [cursor]);

  function walk(event: KeyboardEvent) {
    const step = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -wide, ArrowDown: wide }[event.key];
    const from = Number((event.target as HTMLElement).dataset.number ?? home);
    if (step === undefined) return;
    event.preventDefault();
    if (cells.some((cell) => cell.number === from + step)) setCursor(from + step);
  }
  return (
    <div
      role="grid"
      aria-label={label}
      ref={grid}
      onKeyDown={walk}
      tabIndex={-1}
      data-shortcuts=""
      className="select-none"
    >
      {shown.map((row) =>
        "folded" in row ? (
          <p key={row.range} className="flex pt-2 text-small text-ink-2">
            <span className="w-20 shrink-0 pr-3 text-right font-mono text-cell">{row.range}</span>
            {row.folded.toLowerCase()}
          </p>
        ) : (
          <div key={row.range} className="flex">
            <div className="w-26 shrink-0 pt-5 pr-3 text-right max-sm:w-20" aria-hidden="true">
              <b className="block truncate text-small leading-4 font-semibold">{row.title}</b>
              <span className="block font-mono text-cell text-ink-2">{row.range}</span>
            </div>
            <div className="relative pt-5">
              <Brackets brackets={row.brackets} size={size} />
              <div role="row" className="flex border-r border-field">
                {row.cells.map((cell, at) => (
                  <OneCell
                    key={cell.number}
                    cell={cell}
                    strong={at % 8 === 0}
                    current={selected === cell.number}
                    inTab={home === cell.number}
                    target={targets.find((target) => target.number === cell.number)}
                    open={() => {
                      setCursor(cell.number);
                      select(cell.number);
                    }}
                    take={() => {
                      held.current = cell.device && { device: cell.device.key, from: cell.number };
                    }}
                    release={() => {
                      const from = held.current;
                      held.current = null;
                      if (from && from.from !== cell.number && cell.kind !== "outside")
                        drop(from.device, cell.number);
                    }}
                  />
                ))}
              </div>
            </div>
          </div>
        ),
      )}
    </div>
  );
}

function Brackets({ brackets, size }: { brackets: Bracket[]; size: number }) {
  return (
    <div aria-hidden="true" className="absolute inset-x-0 top-0 h-5">
      {brackets.map((bracket, at) => {
        const room = ((brackets[at + 1]?.from ?? 40) - bracket.from) * size;
        return (
          <span
            key={bracket.from}
            className="absolute top-1 truncate text-cell text-ink-2"
            style={{ left: bracket.from * size + 1, maxWidth: room - 4 }}
          >
            {bracket.label}
          </span>
        );
      })}
    </div>
  );
}

function OneCell({
  cell,
  strong,
  current,
  inTab,
  target,
  open,
  take,
  release,
}: {
  cell: Cell;
  strong: boolean;
  current: boolean;
  inTab: boolean;
  target: Target | undefined;
  open: () => void;
  take: () => void;
  release: () => void;
}) {
  const look = cell.device ? cell.device.state : cell.kind;
  const mark = cell.device ? DEVICE_MARKS[cell.device.state] : KIND_MARKS[cell.kind];
  const numbered =
    cell.device || target || cell.kind === "gateway" || cell.kind === "dns" || cell.number % 32 === 0;
  const word = cellWord(cell);
  return (
    <div
      role="gridcell"
      tabIndex={inTab && cell.kind !== "outside" ? 0 : -1}
      data-number={cell.number}
      data-shortcuts=""
      aria-selected={current}
      aria-label={`${cell.address}: ${word}${target ? `, fix ${target.letter} goes here` : ""}`}
      title={`${cell.address} · ${word}`}
      onClick={open}
      onPointerDown={take}
      onPointerUp={release}
      onKeyDown={(event) => event.key === "Enter" && open()}
      className={`flex h-8 w-6 cursor-pointer max-sm:h-11 max-sm:w-[34px] flex-col items-center border border-r-0 border-hair pt-px text-cell leading-4 font-semibold focus-visible:z-10 ${
        strong ? "border-l-field" : ""
      } ${target ? "border-r border-2 border-dashed border-brass-fill bg-brass-wash text-brass" : (LOOKS[look] ?? "")} ${
        current ? "relative z-10 outline-[3px] -outline-offset-1 outline-ink" : ""
      }`}
    >
      {numbered ? (
        <span className="h-4 tracking-tighter [font-variant-numeric:proportional-nums]">
          {cell.number % 256}
        </span>
      ) : (
        <span className="h-2" />
      )}
      {target ? (
        <span className="leading-3">{target.letter}</span>
      ) : (
        mark &&
        (numbered || mark !== "kept") && (
          <Mark
            name={mark === "kept" ? "free" : mark}
            size={numbered ? 12 : 14}
            tone={look === "proven" ? "text-paper [--on-fill:var(--kelp)]" : "text-current"}
          />
        )
      )}
    </div>
  );
}

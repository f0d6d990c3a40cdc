import type { Schemas } from "../../api/client";
import { upper } from "../../parts/words";

type Network = Schemas["NetworkSheet"];
type Placed = Schemas["Placed"];

type CellKind = "outside" | "edge" | "gateway" | "dns" | "kept" | "pool" | "free" | "device";
export type Cell = {
  number: number;
  address: string;
  kind: CellKind;
  device: Placed | null;
  why: string | null;
};
export type Bracket = { from: number; to: number; label: string };
export type Row = { cells: Cell[]; brackets: Bracket[]; title: string; range: string };
/** Rows in which nothing stands, folded into one line. */
export type Fold = { folded: string; range: string };

const WINDOW = 256;
/** The keys of one-press fixes, as they stand in the sheet. */
export const LETTERS = "ABCDEF";

export function toNumber(address: string): number {
  return address.split(".").reduce((sum, part) => sum * 256 + Number(part), 0);
}

export function toAddress(number: number): string {
  return [24, 16, 8, 0].map((shift) => Math.floor(number / 2 ** shift) % 256).join(".");
}

export function bounds(cidr: string): { base: number; top: number } {
  const [start = "0.0.0.0", prefix = "32"] = cidr.split("/");
  const base = toNumber(start);
  return { base, top: base + 2 ** (32 - Number(prefix)) - 1 };
}

/** The window of 256 addresses that holds a number. */
export function windowOf(number: number): number {
  return Math.floor(number / WINDOW) * WINDOW;
}

/** Windows of a network worth looking at: the first, the last, and each that holds a device. */
export function windowsOf(network: Network): number[] {
  const { base, top } = bounds(network.cidr);
  const starts = new Set([windowOf(base), windowOf(top)]);
  for (const device of network.devices) {
    const number = toNumber(device.address);
    if (number >= base && number <= top) starts.add(windowOf(number));
  }
  return [...starts].sort((one, other) => one - other);
}

type Index = {
  devices: Map<number, Placed>;
  spans: { kind: CellKind; why: string | null; from: number; to: number }[];
};

/** A network's devices by number and its spans as numbers, made once for all windows. */
export function indexOf(network: Network): Index {
  return {
    devices: new Map(network.devices.map((device) => [toNumber(device.address), device])),
    spans: network.spans.map((span) => ({
      kind: span.kind as CellKind,
      why: span.why ?? null,
      from: toNumber(span.first),
      to: toNumber(span.last),
    })),
  };
}

/** What stands on each address of one window, in rows of `wide` cells with bracket lines above. */
export function sheetRows(network: Network, index: Index, window: number, wide: number): Row[] {
  const { base, top } = bounds(network.cidr);
  const first = Math.max(window, windowOf(base));
  const spans = index.spans.filter((span) => span.from < first + WINDOW && span.to >= first);
  const rows: Row[] = [];
  for (let start = first; start < first + WINDOW; start += wide) {
    if (start > top || start + wide - 1 < base) continue;
    const cells = Array.from({ length: wide }, (_, at): Cell => {
      const number = start + at;
      const device = index.devices.get(number) ?? null;
      const span = spans.find((item) => number >= item.from && number <= item.to);
      const kind = number < base || number > top ? "outside" : device ? "device" : (span?.kind ?? "free");
      return { number, address: toAddress(number), kind, device, why: span?.why ?? null };
    });
    rows.push({ cells, brackets: brackets(cells), title: title(cells), range: range(cells) });
  }
  return rows;
}

/** One window of 256 addresses in the atlas of a large network. */
export type Leaf = { from: number; devices: number; trouble: number; pool: number; kept: number };

/** All windows of a network with what stands in them; of one with more than 256 windows those worth looking at. */
export function atlasOf(network: Network, index: Index): Leaf[] {
  const { base, top } = bounds(network.cidr);
  const whole = (top - base + 1) / WINDOW;
  const starts =
    whole <= 256
      ? Array.from({ length: Math.max(1, whole) }, (_, at) => windowOf(base) + at * WINDOW)
      : windowsOf(network);
  const leaves = new Map(starts.map((from) => [from, { from, devices: 0, trouble: 0, pool: 0, kept: 0 }]));
  for (const [number, device] of index.devices) {
    const leaf = leaves.get(windowOf(number));
    if (!leaf) continue;
    leaf.devices += 1;
    if (device.state === "clash" || device.state === "broken") leaf.trouble += 1;
  }
  for (const span of index.spans) {
    if (span.kind !== "pool" && span.kind !== "kept") continue;
    for (const leaf of leaves.values()) {
      const size = Math.min(span.to, leaf.from + WINDOW - 1) - Math.max(span.from, leaf.from) + 1;
      if (size > 0) leaf[span.kind] += size;
    }
  }
  return [...leaves.values()];
}

/** Fold runs of rows without a device or a target into one line each, for narrow screens. */
export function foldRows(rows: Row[], targets: number[]): (Row | Fold)[] {
  const found: (Row | Fold)[] = [];
  for (const row of rows) {
    const busy = row.cells.some(
      (cell) => cell.device || cell.kind === "gateway" || targets.includes(cell.number),
    );
    const last = found.at(-1);
    if (busy) found.push(row);
    else if (last && "folded" in last && last.folded === row.title)
      last.range = `${last.range.split("–")[0]}–${row.range.split("–")[1]}`;
    else found.push({ folded: row.title, range: row.range });
  }
  return found;
}

function groupOf(cell: Cell): string | null {
  if (cell.device) return cell.device.group;
  if (cell.kind === "pool") return "DHCP pool";
  if (cell.kind === "kept") return `kept by IT${cell.why ? `: ${cell.why}` : ""}`;
  return null;
}

/** Runs of one kind get one label; a gap of a free cell or two inside a family does not break its run. */
function brackets(cells: Cell[]): Bracket[] {
  const found: Bracket[] = [];
  cells.forEach((cell, at) => {
    const label = groupOf(cell);
    if (!label) return;
    const last = found.at(-1);
    if (last && last.label === label && at - last.to <= 3) last.to = at;
    else found.push({ from: at, to: at, label });
  });
  return found;
}

function title(cells: Cell[]): string {
  const counts = new Map<string, number>();
  for (const cell of cells) {
    const group = cell.device ? cell.device.group : cell.kind === "pool" ? "DHCP pool" : null;
    if (group) counts.set(group, (counts.get(group) ?? 0) + 1);
  }
  const best = [...counts].sort((one, other) => other[1] - one[1])[0]?.[0];
  if (best) return upper(best);
  return cells.some((cell) => cell.kind === "kept") ? "Kept by IT" : "Spare";
}

function range(cells: Cell[]): string {
  const inside = cells.filter((cell) => cell.kind !== "outside");
  const last = (cell: Cell | undefined) => (cell ? `.${cell.number % 256}` : "");
  return `${last(inside[0])}–${last(inside.at(-1))}`;
}

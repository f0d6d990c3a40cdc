import type { Schemas } from "../../api/client";

type Column = Schemas["ProofColumn"];
type Cell = Schemas["ProofRow"];

export type Place = { place: string; columns: Column[]; proven: number };
export type Band = { places: Place[]; columns: Column[] };

const LETTERS: Record<string, string> = {
  camera: "C",
  recorder: "R",
  "software-recorder": "R",
  encoder: "E",
  "joystick-desk": "J",
  "door-station": "D",
  "indoor-monitor": "M",
  panel: "P",
  "alarm-hub": "A",
  switch: "S",
};
const WORDS: Record<string, string> = {
  C: "camera",
  R: "recorder",
  E: "encoder",
  J: "joystick desk",
  D: "door station",
  M: "monitor",
  P: "panel",
  A: "alarm hub",
  S: "switch",
  O: "other",
};

export function letterOf(family: string): string {
  return LETTERS[family] ?? "O";
}

/** What the letters above the columns stand for, of those that occur. */
export function letterWords(columns: Column[]): string {
  const used = [...new Set(columns.map((column) => letterOf(column.family)))];
  return used.map((letter) => `${letter} ${WORDS[letter]}`).join(", ");
}

/** Columns numbered within their letter in the order of the walk, e.g. C 13. */
export function numbered(columns: Column[]): Map<string, number> {
  const counts = new Map<string, number>();
  return new Map(
    columns.map((column) => {
      const letter = letterOf(column.family);
      counts.set(letter, (counts.get(letter) ?? 0) + 1);
      return [column.key, counts.get(letter) ?? 0];
    }),
  );
}

/** Columns in bands that fit `wide` columns, places kept together where they fit into one band. */
export function bandsOf(columns: Column[], wide: number): Band[] {
  const places: Place[] = [];
  for (const column of columns) {
    let place = places.at(-1);
    if (!place || place.place !== column.place || place.columns.length >= wide) {
      place = { place: column.place, columns: [], proven: 0 };
      places.push(place);
    }
    place.columns.push(column);
    if (column.state === "proven") place.proven += 1;
  }
  const bands: Band[] = [];
  for (const place of places) {
    const band = bands.at(-1);
    if (band && band.columns.length + place.columns.length <= wide) {
      band.places.push(place);
      band.columns.push(...place.columns);
    } else bands.push({ places: [place], columns: [...place.columns] });
  }
  return bands;
}

export function cellKey(device: string, check: string): string {
  return `${device} ${check}`;
}

export function byKey(cells: Cell[]): Map<string, Cell> {
  return new Map(cells.map((cell) => [cellKey(cell.device, cell.check), cell]));
}

export type Row =
  | { kind: "check"; check: Schemas["CheckRow"] }
  | { kind: "fold"; protocol: string; checks: Schemas["CheckRow"][]; open: boolean };

/**
 * The rows of the sheet: checks that failed nowhere stand together in one row a protocol until it is opened. A check
 * folds while none of its cells is broken; one alone stands for itself.
 */
export function rowsOf(checks: Schemas["CheckRow"][], cells: Cell[], open: Set<string>): Row[] {
  const broken = new Set(cells.filter((cell) => cell.state === "broken").map((cell) => cell.check));
  const folds = (check: string) => !broken.has(check);
  const folded = new Map<string, Schemas["CheckRow"][]>();
  for (const check of checks)
    if (folds(check.check)) folded.set(check.protocol, [...(folded.get(check.protocol) ?? []), check]);
  const rows: Row[] = [];
  const said = new Set<string>();
  for (const check of checks) {
    const together = folded.get(check.protocol) ?? [];
    if (together.length < 2 || !folds(check.check)) {
      rows.push({ kind: "check", check });
      continue;
    }
    if (said.has(check.protocol)) continue;
    said.add(check.protocol);
    const isOpen = open.has(check.protocol);
    rows.push({ kind: "fold", protocol: check.protocol, checks: together, open: isOpen });
    if (isOpen) rows.push(...together.map((item) => ({ kind: "check" as const, check: item })));
  }
  return rows;
}

const WORST: Cell["state"][] = ["stale", "excepted", "not-measured", "planned", "proven"];

/** What a device has come to in checks that stand together: what is least proven of it; undefined where none is asked. */
export function together(cells: (Cell | undefined)[]): Cell["state"] | undefined {
  const states = new Set(cells.map((cell) => cell?.state));
  return WORST.find((state) => states.has(state));
}

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

/** Lengths and cable sizes as the site says them; they are stored in metres and mm². */
export type Units = "metric" | "imperial";
const FOOT = 0.3048;

export function length(metres: number, units: Units): string {
  return units === "imperial" ? `${round(metres / FOOT)} ft` : `${round(metres)} m`;
}

export function lengthUnit(units: Units): string {
  return units === "imperial" ? "ft" : "m";
}

/** A number as it stands in a field, in the site's unit. */
export function shownLength(metres: number | null | undefined, units: Units): string {
  if (metres === null || metres === undefined) return "";
  return String(units === "imperial" ? round(metres / FOOT) : round(metres));
}

/** Metres of what was typed in the site's unit; null for nothing or no number. */
export function typedLength(text: string, units: Units): number | null {
  const number = typed(text);
  if (number === null) return null;
  return units === "imperial" ? Math.round(number * FOOT * 10_000) / 10_000 : number;
}

/** A length as it goes to the server: metres of what was typed, null for nothing, and as typed what is no number. */
export function lengthToSend(text: string, units: Units): number | string | null {
  return text.trim() === "" ? null : (typedLength(text, units) ?? text.trim());
}

/** A positive number as typed, with a comma or a point; null for nothing and for what is none. */
export function typed(text: string): number | null {
  const number = Number(text.trim().replace(",", "."));
  return text.trim() === "" || !Number.isFinite(number) || number < 0 ? null : number;
}

export function size(mm2: number | null, awg: number | null): string {
  return awg !== null ? `AWG ${awg}` : mm2 !== null ? `${mm2} mm²` : "its own lead";
}

function round(number: number): number {
  return Math.round(number * 10) / 10;
}

export function watts(number: number): string {
  return `${number.toFixed(1)} W`;
}

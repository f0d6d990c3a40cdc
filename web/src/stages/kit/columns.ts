import type { Schemas } from "../../api/client";
import { lengthToSend, shownLength } from "../../parts/units";
import { typedNumber } from "../../parts/words";

export type Sheet = Schemas["Kit"];
export type Device = Schemas["KitDevice"];
export type Field =
  | "name"
  | "place"
  | "model"
  | "network"
  | "addressing"
  | "mac"
  | "serial"
  | "used"
  | "feeder"
  | "feeder_port"
  | "cable_m"
  | "cable_ft";
export type Value = string | boolean | null;

export type Column = {
  field: "key" | Field;
  head: string;
  width: string;
  mono?: boolean;
  /** What may be chosen; a column without choices is typed. */
  choices?: (sheet: Sheet, device?: Device) => { value: string; word: string }[];
};

const ADDRESSING_WORDS: Record<string, string> = {
  fixed: "fixed",
  reserved: "reserved",
  leased: "leased",
};

function hasCameraPorts(sheet: Sheet, model: string): boolean {
  return sheet.models.some((item) => item.key === model && item.camera_ports);
}

function feeds(sheet: Sheet, model: string): boolean {
  return sheet.models.some((item) => item.key === model && item.feeds);
}

export const COLUMNS: Column[] = [
  { field: "key", head: "Sticker", width: "84px", mono: true },
  { field: "name", head: "Name", width: "minmax(150px, 2fr)" },
  {
    field: "place",
    head: "Place",
    width: "minmax(104px, 1.1fr)",
    choices: (sheet, device) => [
      { value: "", word: "not known yet" },
      ...[...new Set([...sheet.places, ...(device?.place ? [device.place] : [])])].map((place) => ({
        value: place,
        word: place,
      })),
    ],
  },
  {
    field: "model",
    head: "Model",
    width: "minmax(140px, 1.4fr)",
    choices: (sheet) => sheet.models.map((model) => ({ value: model.key, word: model.label })),
  },
  {
    field: "network",
    head: "Network",
    width: "minmax(96px, 1fr)",
    choices: (sheet, device) => [
      { value: "", word: "not known yet" },
      ...sheet.networks.map((network) => ({ value: network.key, word: network.label })),
      ...sheet.devices
        .filter((item) => item.key !== device?.key && hasCameraPorts(sheet, item.model))
        .map((item) => ({ value: `behind ${item.key}`, word: `behind ${item.name ?? item.key}` })),
    ],
  },
  {
    field: "addressing",
    head: "Address is",
    width: "104px",
    choices: (sheet) => [
      { value: "", word: `${ADDRESSING_WORDS[sheet.addressing]} (site)` },
      ...Object.entries(ADDRESSING_WORDS).map(([value, word]) => ({ value, word })),
    ],
  },
  { field: "mac", head: "Hardware address", width: "164px", mono: true },
  { field: "serial", head: "Serial number", width: "minmax(96px, 0.8fr)", mono: true },
  {
    field: "used",
    head: "Bought",
    width: "68px",
    choices: () => [
      { value: "", word: "new" },
      { value: "used", word: "used" },
    ],
  },
];

const named = (field: Column["field"]) => COLUMNS.find((column) => column.field === field) as Column;

const PHONE_WIDTHS: Record<string, string> = {
  key: "56px",
  feeder_port: "40px",
  cable_m: "56px",
  cable_ft: "60px",
};
const FEEDING: Column[] = [
  named("key"),
  named("name"),
  named("place"),
  named("model"),
  {
    field: "feeder",
    head: "Powered by",
    width: "minmax(150px, 1.4fr)",
    choices: (sheet, device) => [
      { value: "", word: "not known yet" },
      ...sheet.devices
        .filter(
          (item) => item.key !== device?.key && (item.key === device?.feeder || feeds(sheet, item.model)),
        )
        .map((item) => ({ value: item.key, word: item.name ?? item.key })),
    ],
  },
  { field: "feeder_port", head: "Port", width: "72px", mono: true },
  { field: "cable_m", head: "Cable, m", width: "88px", mono: true },
];

/** The columns of the kit: what stands on the labels, or what feeds a device and over how many metres. */
export const VIEWS = {
  labels: {
    word: "labels and addresses",
    wide: COLUMNS,
    phone: [
      { ...named("key"), width: "60px" },
      { ...named("name"), width: "minmax(0,1fr)" },
      { ...named("mac"), width: "128px" },
    ],
  },
  power: {
    word: "power and cables",
    wide: FEEDING,
    phone: FEEDING.flatMap((column) =>
      column.field === "place" || column.field === "model"
        ? []
        : { ...column, width: PHONE_WIDTHS[column.field] ?? "minmax(0,1fr)" },
    ),
  },
};

/** The columns with lengths as the site says them. */
export function inUnits(columns: Column[], units: "metric" | "imperial"): Column[] {
  if (units === "metric") return columns;
  return columns.map((column) =>
    column.field === "cable_m" ? { ...column, field: "cable_ft", head: "Cable, ft" } : column,
  );
}

/** What stands in a cell, as its control holds it. */
export function held(device: Device, field: Column["field"]): string {
  if (field === "network") return device.behind ? `behind ${device.behind}` : (device.network ?? "");
  if (field === "used") return device.used ? "used" : "";
  if (field === "cable_ft") return shownLength(device.cable_m, "imperial");
  return String(device[field] ?? "");
}

/** What stands in a cell, as it is read. */
export function shown(sheet: Sheet, device: Device, column: Column): string {
  const value = held(device, column.field);
  return column.choices?.(sheet, device).find((choice) => choice.value === value)?.word ?? value;
}

/** The change of a device that puts `value` into a cell. */
export function changeOf(field: Field, value: string): Record<string, Value> {
  const text = value.trim();
  if (field === "used") return { used: text !== "" };
  if (field === "network")
    return text.startsWith("behind ")
      ? { network: null, behind: text.slice(7) }
      : { network: text || null, behind: null };
  if (field === "feeder") return { feeder: text || null, feeder_port: null };
  if (field === "cable_ft") return { cable_m: lengthToSend(value, "imperial") as string | null };
  if (field === "cable_m") return { cable_m: typedNumber(text) };
  return { [field]: text || null };
}

/** What `change` overwrites, so that it can be taken back. */
export function inverse(device: Device, change: Record<string, Value>): Record<string, Value> {
  return Object.fromEntries(Object.keys(change).map((name) => [name, device[name as keyof Device] as Value]));
}

/** The value for a cell that pasted text means: of a column with choices the choice of that word. */
export function pasted(sheet: Sheet, column: Column, text: string): string | null {
  const typed = text.trim();
  if (!column.choices) return typed;
  const same = (one: string) => one.toLowerCase() === typed.toLowerCase();
  const hit = column.choices(sheet).find((choice) => same(choice.word) || same(choice.value));
  return hit ? hit.value : column.field === "place" ? typed : null;
}

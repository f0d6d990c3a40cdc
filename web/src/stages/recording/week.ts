import type { Schemas } from "../../api/client";

export type Mode = "continuous" | "motion" | "alarm";
export type Period = Schemas["PeriodRow"];
/** A pattern's week as the document has it. */
export type Week = Record<string, string | { from: string; to: string; mode: Mode }[]>;
export const DAYS = ["mon", "tue", "wed", "thu", "fri", "sat", "sun", "holiday"] as const;
export const DAY_MIN = 1440;
export const MODES: Record<Mode, string> = {
  continuous: "continuous",
  motion: "motion",
  alarm: "alarm contact",
};
export const DAY_WORDS: Record<string, string> = {
  mon: "Monday",
  tue: "Tuesday",
  wed: "Wednesday",
  thu: "Thursday",
  fri: "Friday",
  sat: "Saturday",
  sun: "Sunday",
  holiday: "Holidays",
};

export function clock(minutes: number): string {
  return `${String(Math.floor(minutes / 60)).padStart(2, "0")}:${String(minutes % 60).padStart(2, "0")}`;
}

/** Minutes since midnight of "7:30", "0730" or "24:00"; null for what is no time of a day. */
export function minutesOf(text: string): number | null {
  const found = /^\s*(\d{1,2})[:.h]?(\d{2})\s*$/.exec(text);
  if (!found) return null;
  const minutes = Number(found[1]) * 60 + Number(found[2]);
  return Number(found[2]) < 60 && minutes <= DAY_MIN ? minutes : null;
}

export type Day = { day: string; as: string | null; periods: Period[]; known: boolean };

/** Every day with what it is as and the periods that hold on it, as the server has it too. */
export function daysOf(week: Week): Day[] {
  return DAYS.map((day) => {
    const said = week[day] ?? (day === "holiday" ? "sun" : "mon");
    let at: string = day;
    const seen = new Set<string>();
    while (!seen.has(at)) {
      seen.add(at);
      const here = week[at] ?? (at === "holiday" ? "sun" : at === "mon" ? [] : "mon");
      if (typeof here !== "string")
        return { day, as: typeof said === "string" ? said : null, periods: here.map(read), known: true };
      if (!(DAYS as readonly string[]).includes(here)) break;
      at = here;
    }
    return { day, as: typeof said === "string" ? said : null, periods: [], known: false };
  });
}

function read(item: { from: string; to: string; mode: Mode }): Period {
  return { from_min: minutesOf(item.from) ?? 0, to_min: minutesOf(item.to) ?? 0, mode: item.mode };
}

/** The week with other periods on a day, or with the day as another one. */
export function withDay(week: Week, day: string, said: Period[] | string): Week {
  if (typeof said === "string") return { ...week, [day]: said };
  const periods = [...said]
    .sort((one, two) => one.from_min - two.from_min || one.to_min - two.to_min)
    .map((item) => ({ from: clock(item.from_min), to: clock(item.to_min), mode: item.mode }));
  return { ...week, [day]: periods };
}

/** A moment at which something begins or ends: what ends there and what begins there, by their place in the list. */
export type Edge = { at: number; ends: number | null; begins: number | null };

export function edgesOf(periods: Period[]): Edge[] {
  const found = new Map<number, Edge>();
  const edge = (at: number) => {
    const known = found.get(at) ?? { at, ends: null, begins: null };
    found.set(at, known);
    return known;
  };
  periods.forEach((item, index) => {
    edge(item.from_min).begins = index;
    edge(item.to_min).ends = index;
  });
  return [...found.values()].sort((one, two) => one.at - two.at);
}

/** From where to where an edge may go: it leaves a minute to every period beside it, and passes none. */
export function room(periods: Period[], edge: Edge): [number, number] {
  const ends = edge.ends === null ? undefined : periods[edge.ends];
  const begins = edge.begins === null ? undefined : periods[edge.begins];
  const before = periods.filter((item) => item.to_min <= edge.at && item !== ends).map((item) => item.to_min);
  const after = periods
    .filter((item) => item.from_min >= edge.at && item !== begins)
    .map((item) => item.from_min);
  const least = ends ? ends.from_min + 1 : Math.max(0, ...before);
  const most = begins ? begins.to_min - 1 : Math.min(DAY_MIN, ...after);
  return [least, Math.max(least, most)];
}

/** The periods with an edge at another moment; what ends and what begins there move together. */
export function moveEdge(periods: Period[], edge: Edge, to: number): Period[] {
  const [least, most] = room(periods, edge);
  const at = Math.min(Math.max(to, least), most);
  return periods.map((item, index) => ({
    ...item,
    from_min: index === edge.begins ? at : item.from_min,
    to_min: index === edge.ends ? at : item.to_min,
  }));
}

/** The periods with another one in the place of what stood there: what it covers is cut or taken out. */
export function withPeriod(periods: Period[], fresh: Period): Period[] {
  const found: Period[] = [];
  for (const item of periods) {
    if (item.to_min <= fresh.from_min || item.from_min >= fresh.to_min) found.push(item);
    else {
      if (item.from_min < fresh.from_min) found.push({ ...item, to_min: fresh.from_min });
      if (item.to_min > fresh.to_min) found.push({ ...item, from_min: fresh.to_min });
    }
  }
  return [...found, fresh].sort((one, two) => one.from_min - two.from_min);
}

/** A period cut in two in its middle, at a quarter of an hour. */
export function split(periods: Period[], index: number): Period[] {
  const item = periods[index];
  if (!item || item.to_min - item.from_min < 2) return periods;
  const middle = (item.from_min + item.to_min) / 2;
  const quarter = Math.round(middle / 15) * 15;
  const at = quarter > item.from_min && quarter < item.to_min ? quarter : Math.floor(middle);
  return [
    ...periods.slice(0, index),
    { ...item, to_min: at },
    { ...item, from_min: at },
    ...periods.slice(index + 1),
  ];
}

import { describe, expect, test } from "vitest";
import {
  daysOf,
  edgesOf,
  minutesOf,
  moveEdge,
  type Period,
  room,
  split,
  type Week,
  withDay,
  withPeriod,
} from "./week";

const day: Period[] = [
  { from_min: 0, to_min: 330, mode: "motion" },
  { from_min: 330, to_min: 750, mode: "continuous" },
  { from_min: 780, to_min: 1440, mode: "continuous" },
];
const edge = (at: number) => edgesOf(day).find((item) => item.at === at) ?? expect.fail(`no edge at ${at}`);

describe("the week", () => {
  test("days name others, absent ones fall back, circles lead nowhere", () => {
    const week: Week = {
      mon: [{ from: "00:00", to: "24:00", mode: "motion" }],
      sat: [],
      sun: "sat",
      fri: "thu",
      thu: "fri",
    };
    const found = Object.fromEntries(daysOf(week).map((item) => [item.day, item]));
    expect(found.tue).toMatchObject({ as: "mon", periods: [{ to_min: 1440 }] });
    expect(found.holiday).toMatchObject({ as: "sun", periods: [], known: true });
    expect(found.fri?.known).toBe(false);
  });

  test("times are read as people type them", () => {
    expect(["7:30", "0730", "24:00", "24:01", "7:60", "noon"].map(minutesOf)).toEqual([
      450,
      450,
      1440,
      null,
      null,
      null,
    ]);
  });

  test("an edge between two periods moves both, an edge at a gap only its own, and none passes a neighbour", () => {
    expect(moveEdge(day, edge(330), 345).slice(0, 2)).toMatchObject([{ to_min: 345 }, { from_min: 345 }]);
    expect(moveEdge(day, edge(750), 765)).toMatchObject([{}, { to_min: 765 }, { from_min: 780 }]);
    expect(moveEdge(day, edge(750), 900)[1]?.to_min).toBe(780);
    expect(room(day, edge(330))).toEqual([1, 749]);
    expect(moveEdge(day, edge(0), -15)[0]?.from_min).toBe(0);
  });

  test("a new period cuts what stood there; a split keeps the whole", () => {
    const cut = withPeriod(day, { from_min: 300, to_min: 400, mode: "alarm" });
    expect(cut.map((item) => [item.from_min, item.to_min])).toEqual([
      [0, 300],
      [300, 400],
      [400, 750],
      [780, 1440],
    ]);
    const halves = split(day, 1);
    expect(halves[1]?.to_min).toBe(halves[2]?.from_min);
    expect(withDay({ mon: "tue" }, "mon", halves).mon).toHaveLength(4);
  });
});

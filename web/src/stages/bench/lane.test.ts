import { expect, test } from "vitest";
import type { Schemas } from "../../api/client";
import { countdown, laneOf, spoken, teams } from "./lane";

function step(id: string, kind: string, start_s: number, end_s: number, more: object = {}) {
  const manual = !["boot", "restart"].includes(kind);
  return {
    id,
    kind,
    start_s,
    end_s,
    manual,
    hand: manual ? 1 : null,
    device: "cam-1",
    state: "open",
    ...more,
  };
}

const view = { from: 0, to: 1000, now: 100, width: 500, rows: 3 };
const run = [
  step("a", "connect", 0, 20, { state: "done" }),
  step("b", "boot", 20, 90),
  step("c", "activate", 120, 165),
  step("far", "configure", 2000, 2100),
] as unknown as Schemas["StepRow"][];

test("what is done by hand stands at its time, what is far away does not", () => {
  const lane = laneOf(run, "c", view, String);
  expect(lane.blocks.map(({ id, left, width, look }) => [id, left, width, look])).toEqual([
    ["a", 0, 10, "done"],
    ["c", 60, 22.5, "now"],
  ]);
  expect(lane.now).toBe(50);
});

test("a device that booted waits until somebody takes it up", () => {
  expect(laneOf(run, "c", view, String).threads.map(({ id, word, left_s }) => [id, word, left_s])).toEqual([
    ["b", "booting", 0],
  ]);
  const taken = run.map((item) => (item.id === "c" ? { ...item, state: "doing" as const } : item));
  expect(laneOf(taken, "c", view, String).threads).toEqual([]);
});

test("seconds are spoken as a technician says them", () => {
  expect([50, 600, 6720].map(spoken)).toEqual(["50 s", "10 min", "1 h 52 min"]);
  expect([0.2, 65, 299, 300].map(countdown)).toEqual(["1 s", "1:05 min", "4:59 min", "5 min"]);
  expect([teams(1).length, teams(7).length]).toEqual([4, 7]);
});

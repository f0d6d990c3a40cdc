// @vitest-environment jsdom
import { QueryClient } from "@tanstack/react-query";
import { beforeEach, expect, test } from "vitest";
import { dequeue, enqueue, waiting } from "./outbox";
import { type Group, nextLine, showTicks, stretch, type TickSeen } from "./useTicks";

beforeEach(() => localStorage.clear());

const line = (key: string, mark: string) => ({ key, mark, ticked: false, typed_by: null, typed_at: null });
const sheet = () => ({
  current: {
    subject: "cam-1",
    groups: [{ key: "g", lines: [line("address", "10.0.0.5"), line("name", "Gate")] }],
  },
});
const tick = (more: Partial<TickSeen> = {}): TickSeen => ({
  subject: "cam-1",
  line: "address",
  value: "10.0.0.5",
  done: true,
  by: "ines",
  at: "2026-11-28T10:00:00Z",
  ...more,
});

function after(...ticks: TickSeen[]) {
  const queries = new QueryClient();
  queries.setQueryData(["site", "quay", "bench", "1", "1"], sheet());
  showTicks(queries, "quay", ticks);
  const data = queries.getQueryData<ReturnType<typeof sheet>>(["site", "quay", "bench", "1", "1"]);
  return data?.current.groups[0]?.lines.map((item) => [item.ticked, item.typed_by]);
}

test("what somebody else ticks shows on the sheet at hand", () => {
  expect(after(tick())).toEqual([
    [true, "ines"],
    [false, null],
  ]);
  expect(after(tick(), tick({ done: false }))).toEqual([
    [false, null],
    [false, null],
  ]);
});

test("a tick of another device, or of a value that is another one by now, shows nowhere", () => {
  for (const strange of [tick({ subject: "cam-2" }), tick({ value: "10.0.0.9" })])
    expect(after(strange)?.every(([ticked]) => !ticked)).toBe(true);
});

test("the next value is the first that is not ticked", () => {
  const groups = [{ lines: [{ ...line("a", "1"), ticked: true }, line("b", "2")] }] as never;
  expect(nextLine(groups)?.key).toBe("b");
});

test("one press confirms a group and short ones after it, up to what has to be made first", () => {
  const value = (key: string, more = {}) => ({ ...line(key, key), secret: null, ...more });
  const group = (title: string, number: number, more = {}) => ({
    title,
    lines: Array.from({ length: number }, (_, at) => value(`${title}-${at}`)),
    same_as: null,
    ...more,
  });
  const titles = (...groups: unknown[]) => stretch(groups as Group[]).titles;
  expect(titles(group("network", 4), group("identity", 1), group("clock", 9))).toEqual([
    "network",
    "identity",
  ]);
  expect(titles(group("clock", 12), group("picture", 1))).toEqual(["clock"]);
  expect(titles(group("network", 5), group("clock", 9, { same_as: "Gate" }))).toEqual(["network"]);
  const secret = { version: 0, makeable: true, undecided: true };
  const accounts = {
    title: "accounts",
    lines: [value("user"), value("password", { secret }), value("role")],
  };
  const found = stretch([accounts] as unknown as Group[]);
  expect([found.lines.map((item) => item.key), found.blocked?.key]).toEqual([["user"], "password"]);
});

test("what waits outlives the page, the oldest first, until it is answered", () => {
  const first = enqueue("box", { value: 1 });
  const second = enqueue("box", { value: 2 });
  expect(waiting<{ value: number }>("box").map((item) => item.value)).toEqual([1, 2]);
  dequeue("box", first.id);
  expect(waiting("box").map((item) => item.id)).toEqual([second.id]);
  localStorage.setItem("tutelar.outbox.box", "{broken");
  expect(waiting("box")).toEqual([]);
});

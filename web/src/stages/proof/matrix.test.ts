import { expect, test } from "vitest";
import type { Schemas } from "../../api/client";
import { bandsOf, letterWords, numbered, rowsOf, together } from "./matrix";

function columns(...rows: [place: string, family: string, state?: string][]) {
  return rows.map(([place, family, state], at) => ({
    key: `d-${at}`,
    place,
    family,
    state: state ?? "planned",
  })) as unknown as Schemas["ProofColumn"][];
}

test("places stay together where they fit, and every column stands once", () => {
  const all = columns(
    ...Array.from({ length: 7 }, (_, at): [string, string] => [at < 4 ? "Hall" : "Pier", "camera"]),
  );
  const bands = bandsOf(all, 5);
  expect(bands.map((band) => band.places.map((place) => [place.place, place.columns.length]))).toEqual([
    [["Hall", 4]],
    [["Pier", 3]],
  ]);
  expect(bandsOf(all, 3).flatMap((band) => band.columns)).toEqual(all);
  expect(Math.max(...bandsOf(all, 3).map((band) => band.columns.length))).toBeLessThanOrEqual(3);
});

test("devices are numbered within their letter, and the letters that occur are explained", () => {
  const all = columns(
    ["Hall", "camera"],
    ["Hall", "recorder"],
    ["Hall", "camera", "proven"],
    ["Hall", "doorbell"],
  );
  expect([...numbered(all).values()]).toEqual([1, 1, 2, 1]);
  expect(letterWords(all)).toBe("C camera, R recorder, O other");
  expect(bandsOf(all, 9)[0]?.places[0]?.proven).toBe(1);
});

test("checks that failed nowhere fold by protocol, one that failed once stands for itself", () => {
  const check = (name: string, protocol: string) =>
    ({ check: name, title: name, protocol }) as Schemas["CheckRow"];
  const checks = [check("gateway", "Settings"), check("dns", "Settings"), check("clock", "Settings")];
  const cell = (name: string, state: string, device = "cam-1") =>
    ({ device, check: name, state }) as Schemas["ProofRow"];
  const good = [cell("gateway", "proven"), cell("dns", "proven"), cell("clock", "proven")];
  const kinds = (cells: Schemas["ProofRow"][], open: string[] = []) =>
    rowsOf(checks, cells, new Set(open)).map((row) =>
      row.kind === "fold" ? row.checks.length : row.check.check,
    );
  expect(kinds(good)).toEqual([3]);
  expect(kinds(good, ["Settings"])).toEqual([3, "gateway", "dns", "clock"]);
  expect(kinds([...good, cell("dns", "broken", "cam-2")])).toEqual([2, "dns"]);
  const silent = good.map((item) => ({ ...item, device: "cam-2", state: "not-measured" as const }));
  expect(kinds([...good, ...silent])).toEqual([3]);
  expect([together([good[0], silent[0]]), together(good), together([undefined])]).toEqual([
    "not-measured",
    "proven",
    undefined,
  ]);
});

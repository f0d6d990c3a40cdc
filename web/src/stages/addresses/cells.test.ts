import { expect, test } from "vitest";
import type { Schemas } from "../../api/client";
import { atlasOf, bounds, foldRows, indexOf, sheetRows, toAddress, toNumber, windowsOf } from "./cells";

function network(cidr: string, devices: [string, string][], spans: [string, string, string][] = []) {
  return {
    cidr,
    devices: devices.map(([address, group]) => ({ address, group, state: "planned", key: address })),
    spans: spans.map(([kind, first, last]) => ({ kind, first, last, why: null })),
  } as unknown as Schemas["NetworkSheet"];
}

test("addresses and numbers are the same thing, up to the last", () => {
  for (const address of ["0.0.0.0", "10.62.8.101", "172.27.16.1", "255.255.255.255"])
    expect(toAddress(toNumber(address))).toBe(address);
  expect(bounds("10.0.0.0/8")).toEqual({ base: toNumber("10.0.0.0"), top: toNumber("10.255.255.255") });
});

test("a small network shows its own cells only, each as what stands there", () => {
  const lan = network(
    "10.20.30.16/28",
    [["10.20.30.20", "cameras"]],
    [["pool", "10.20.30.24", "10.20.30.27"]],
  );
  const rows = sheetRows(lan, indexOf(lan), toNumber("10.20.30.0"), 16);
  expect(rows).toHaveLength(1);
  const kinds = rows[0]?.cells.map((cell) => cell.kind) ?? [];
  expect([kinds[4], kinds[8], kinds[12], kinds[0]]).toEqual(["device", "pool", "free", "free"]);
  expect(rows[0]?.brackets.map((item) => [item.from, item.to, item.label])).toEqual([
    [4, 4, "cameras"],
    [8, 11, "DHCP pool"],
  ]);
});

test("a gap of two cells does not break a family's bracket, one of three does", () => {
  const at = (last: number): [string, string] => [`10.20.30.${last}`, "cameras"];
  const lan = network("10.20.30.0/24", [at(16), at(19), at(23)]);
  const [row] = sheetRows(lan, indexOf(lan), toNumber("10.20.30.0"), 16).slice(1);
  expect(row?.brackets.map((item) => [item.from, item.to])).toEqual([
    [0, 3],
    [7, 7],
  ]);
});

test("rows in which nothing stands fold into one line with their whole range", () => {
  const lan = network("10.20.30.0/24", [["10.20.30.40", "recorders"]]);
  const rows = foldRows(sheetRows(lan, indexOf(lan), toNumber("10.20.30.0"), 16), []);
  expect(rows.map((row) => ("folded" in row ? `${row.folded} ${row.range}` : row.title))).toEqual([
    "Spare .0–.31",
    "Recorders",
    "Spare .48–.255",
  ]);
});

test("a large network has a window for each 256, and only those worth looking at beyond 256 of them", () => {
  const wide = network(
    "10.20.0.0/16",
    [["10.20.90.14", "cameras"]],
    [["pool", "10.20.200.0", "10.20.201.255"]],
  );
  const leaves = atlasOf(wide, indexOf(wide));
  expect(leaves).toHaveLength(256);
  expect(leaves.filter((leaf) => leaf.pool > 0).map((leaf) => leaf.pool)).toEqual([256, 256]);
  expect(leaves.find((leaf) => leaf.devices === 1)?.from).toBe(toNumber("10.20.90.0"));
  const huge = network("10.0.0.0/8", [["10.20.90.14", "cameras"]]);
  expect(windowsOf(huge)).toEqual(["10.0.0.0", "10.20.90.0", "10.255.255.0"].map(toNumber));
  expect(atlasOf(huge, indexOf(huge))).toHaveLength(3);
});

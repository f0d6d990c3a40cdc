import { expect, test } from "vitest";
import { type Beam, loomOf } from "./loom";

function beam(group: string, threads: [id: number, place: string, slot: number, state?: string][]): Beam {
  return {
    id: group,
    key: "rec-1",
    group,
    kind: "camera-to-recorder",
    name: "Recorder",
    seats: [],
    threads: threads.map(([id, place, slot, state]) => ({
      id,
      place,
      slot,
      state: state ?? "ready",
      name: `Camera ${id}`,
      key: `cam-${id}`,
    })),
  } as unknown as Beam;
}

const ids = (beams: Beam[], places: string[]) =>
  loomOf(beams, places, new Set(), null).sections.map((section) =>
    section.groups.map((group) =>
      group.strands.flatMap((strand) => strand.threads.map((thread) => thread.id)),
    ),
  );

test("threads stand by place in the order of the walk, then by number, each once", () => {
  const cameras = beam("Recording", [
    [1, "Pier", 2],
    [2, "Hall", 9],
    [3, "Pier", 1],
  ]);
  expect(ids([cameras], ["Hall", "Pier"])).toEqual([[[2], [3, 1]]]);
  expect(ids([cameras, beam("Doors", [[4, "Hall", 1]])], ["Hall", "Pier"])).toEqual([[[2], [3, 1]], [[4]]]);
});

test("nothing overlaps: every strand stands lower than the one before", () => {
  const many = beam(
    "Recording",
    Array.from({ length: 40 }, (_, at): [number, string, number] => [at, at % 2 ? "Hall" : "Pier", at]),
  );
  const loom = loomOf([many], ["Hall", "Pier"], new Set(), 3);
  const heights = loom.sections.flatMap((section) =>
    section.groups.flatMap((group) => group.strands.map((item) => item.y)),
  );
  expect(heights.every((y, at) => at === 0 || y > (heights[at - 1] ?? 0))).toBe(true);
  expect(Math.max(...heights)).toBeLessThan(loom.height);
});

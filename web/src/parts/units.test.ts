import { expect, test } from "vitest";
import { length, shownLength, typed, typedLength } from "./units";

test("feet are typed and shown where the site says so, metres are stored", () => {
  expect(typedLength("180", "imperial")).toBeCloseTo(54.864);
  expect(shownLength(54.864, "imperial")).toBe("180");
  expect(length(54.864, "imperial")).toBe("180 ft");
  expect(typedLength("54,9", "metric")).toBe(54.9);
  expect([typed("-3"), typed("far"), typed("")]).toEqual([null, null, null]);
});

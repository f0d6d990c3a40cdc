import { readFileSync } from "node:fs";
import { expect, test } from "vitest";

const css = readFileSync(new URL("./theme.css", import.meta.url), "utf8");

function colours(theme: string): Record<string, string> {
  const block = css.slice(css.indexOf(`[data-theme="${theme}"] {`)).split("}")[0] ?? "";
  return Object.fromEntries([...block.matchAll(/--([\w-]+): (#\w{6});/g)].map((found) => found.slice(1)));
}

/** Relative luminance and contrast as in WCAG 2.2. */
function luminance(colour: string): number {
  const [red = 0, green = 0, blue = 0] = [1, 3, 5].map((at) => {
    const part = Number.parseInt(colour.slice(at, at + 2), 16) / 255;
    return part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * red + 0.7152 * green + 0.0722 * blue;
}

function contrast(one: string, other: string): number {
  const [light = 0, dark = 0] = [luminance(one), luminance(other)].sort((a, b) => b - a);
  return (light + 0.05) / (dark + 0.05);
}

const GROUNDS = ["paper", "sheet", "wash"];
const TEXT: Record<string, string[]> = {
  ink: [...GROUNDS, "kelp-wash", "brass-wash", "red-wash", "lease-wash", "slate-wash"],
  "ink-2": [...GROUNDS, "kelp-wash", "brass-wash", "red-wash", "lease-wash", "slate-wash"],
  kelp: [...GROUNDS, "kelp-wash", "brass-wash"],
  brass: [...GROUNDS, "brass-wash"],
  red: [...GROUNDS, "red-wash"],
  lease: [...GROUNDS, "lease-wash"],
  slate: [...GROUNDS, "slate-wash"],
  "on-fill": ["kelp", "red"],
};

test.each(["light", "dark"])("every text of the %s theme can be read, every edge be seen", (theme) => {
  const at = colours(theme);
  expect(Object.keys(at).length).toBeGreaterThan(15);
  const weak = Object.entries(TEXT).flatMap(([text, grounds]) =>
    grounds
      .map((ground) => [text, ground, contrast(at[text] ?? "", at[ground] ?? "")] as const)
      .filter(([, , ratio]) => !(ratio >= 4.5)),
  );
  expect(weak).toEqual([]);
  expect(GROUNDS.filter((ground) => !(contrast(at.field ?? "", at[ground] ?? "") >= 3))).toEqual([]);
});

import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { expect, test } from "vitest";
import { showAnswer } from "./answered";

const KEY = ["site", "halls", "case", 1];

/** A page that shows a case; each asking waits until it is answered by hand. */
function shown() {
  const queries = new QueryClient();
  const asked: ((minutes: number) => void)[] = [];
  const seen: (number | undefined)[] = [];
  new QueryObserver(queries, {
    queryKey: KEY,
    queryFn: () => new Promise<number>((answer) => asked.push(answer)),
  }).subscribe((now) => seen.push(now.data));
  const settled = () => new Promise((done) => setTimeout(done));
  return { queries, asked, seen, settled };
}

test("an older answer that comes late does not replace what a change answered", async () => {
  const { queries, asked, seen, settled } = shown();
  showAnswer(queries, KEY, 25);
  asked[0]?.(0);
  await settled();
  expect(seen.at(-1)).toBe(25);
  expect(asked).toHaveLength(2); // what came meanwhile from others is asked for once more
  asked[1]?.(30);
  await settled();
  expect(seen.at(-1)).toBe(30);
});

test("with nothing on its way, nothing is asked", async () => {
  const { queries, asked, seen, settled } = shown();
  asked[0]?.(0);
  await settled();
  showAnswer(queries, KEY, 25);
  await settled();
  expect(seen.at(-1)).toBe(25);
  expect(asked).toHaveLength(1);
});

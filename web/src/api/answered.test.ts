import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { expect, test } from "vitest";
import { fetchAnew, showAnswer } from "./answered";

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

test("what comes late for a page that was left is not taken for fresh", async () => {
  const queries = new QueryClient({ defaultOptions: { queries: { staleTime: 60_000 } } });
  const asked: ((minutes: number) => void)[] = [];
  const sheet = { queryKey: KEY, queryFn: () => new Promise<number>((answer) => asked.push(answer)) };
  const settled = () => new Promise((done) => setTimeout(done));
  queries.setQueryData(KEY, 0);
  const leave = new QueryObserver(queries, { ...sheet, staleTime: 0 }).subscribe(() => undefined);
  leave();
  expect(asked).toHaveLength(1); // it is still on its way
  await fetchAnew(queries, { queryKey: KEY.slice(0, 2) });
  asked[0]?.(0);
  await settled();
  new QueryObserver(queries, sheet).subscribe(() => undefined);
  expect(asked).toHaveLength(2);
});

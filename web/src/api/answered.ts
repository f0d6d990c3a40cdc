import type { QueryClient, QueryKey } from "@tanstack/react-query";

/**
 * Show what a change answered. What was on its way meanwhile may be older than the change: it is let go, and fetched
 * once more.
 */
export function showAnswer<Sheet>(queries: QueryClient, queryKey: QueryKey, sheet: Sheet): void {
  const onItsWay = queries.isFetching({ queryKey, exact: true }) > 0;
  queries.cancelQueries({ queryKey, exact: true });
  queries.setQueryData<Sheet>(queryKey, sheet);
  if (onItsWay) queries.invalidateQueries({ queryKey, exact: true });
}

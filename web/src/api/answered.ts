import type { QueryClient, QueryFilters, QueryKey } from "@tanstack/react-query";

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

/**
 * Fetch anew what is shown of these, and the others when they are shown again. What is on its way for a page that was
 * left already may be older than the change, and would count as fresh: it is let go.
 */
export async function fetchAnew(queries: QueryClient, these: QueryFilters): Promise<void> {
  await queries.cancelQueries({ ...these, type: "inactive" });
  await queries.invalidateQueries(these);
}

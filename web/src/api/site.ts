import { type QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useParams } from "react-router";
import { fetchAnew, showAnswer } from "./answered";
import { ask, client, type Refused } from "./client";

/** The key of the site in the address bar. */
export function useSiteKey(): string {
  return useParams().site ?? "";
}

export function useSession() {
  return useQuery({
    queryKey: ["session"],
    queryFn: () => ask(client.GET("/api/session")),
    staleTime: 60_000,
  });
}

export function useSites() {
  return useQuery({ queryKey: ["sites"], queryFn: () => ask(client.GET("/api/sites")) });
}

const at = (key: string) => ({ params: { path: { key } } });
const sheets = {
  survey: (key: string) => ask(client.GET("/api/sites/{key}/survey", at(key))),
  kit: (key: string) => ask(client.GET("/api/sites/{key}/kit", at(key))),
  addresses: (key: string) => ask(client.GET("/api/sites/{key}/addresses", at(key))),
  secrets: (key: string) => ask(client.GET("/api/sites/{key}/secrets", at(key))),
  clocks: (key: string) => ask(client.GET("/api/sites/{key}/clocks", at(key))),
  choices: (key: string) => ask(client.GET("/api/sites/{key}/choices", at(key))),
  ports: (key: string) => ask(client.GET("/api/sites/{key}/ports", at(key))),
  links: (key: string) => ask(client.GET("/api/sites/{key}/links", at(key))),
  numbers: (key: string) => ask(client.GET("/api/sites/{key}/numbers", at(key))),
  recording: (key: string) => ask(client.GET("/api/sites/{key}/recording", at(key))),
  doors: (key: string) => ask(client.GET("/api/sites/{key}/doors", at(key))),
  alarm: (key: string) => ask(client.GET("/api/sites/{key}/alarm", at(key))),
  loads: (key: string) => ask(client.GET("/api/sites/{key}/loads", at(key))),
  proof: (key: string) => ask(client.GET("/api/sites/{key}/proof", at(key))),
  remote: (key: string) => ask(client.GET("/api/sites/{key}/remote", at(key))),
  leaving: (key: string) => ask(client.GET("/api/sites/{key}/leaving", at(key))),
  asked: (key: string) => ask(client.GET("/api/sites/{key}/asked", at(key))),
  later: (key: string) => ask(client.GET("/api/sites/{key}/later", at(key))),
  lessons: (key: string) => ask(client.GET("/api/sites/{key}/lessons", at(key))),
  faults: (key: string) => ask(client.GET("/api/sites/{key}/faults", at(key))),
};
type Sheets = { [S in keyof typeof sheets]: Awaited<ReturnType<(typeof sheets)[S]>> };

export function useFrame() {
  const key = useSiteKey();
  return useQuery({
    queryKey: ["site", key, "frame"],
    queryFn: () => ask(client.GET("/api/sites/{key}", { params: { path: { key } } })),
  });
}

/** How far the job is: marks and next things of the stages, and the laptop. */
export function useJob() {
  const key = useSiteKey();
  return useQuery({
    queryKey: ["site", key, "job"],
    queryFn: () => ask(client.GET("/api/sites/{key}/job", { params: { path: { key } } })),
  });
}

/** One stage's sheet, fetched anew after every change of the site. */
export function useSheet<S extends keyof Sheets>(stage: S, enabled = true) {
  const key = useSiteKey();
  return useQuery<Sheets[S], Error>({
    queryKey: ["site", key, stage],
    queryFn: () => sheets[stage](key) as Promise<Sheets[S]>,
    enabled,
  });
}

/**
 * Fetch everything shown of a site anew. What was on its way for the first time may be older than the change that asks
 * for this, and is fetched once more.
 */
export async function invalidateSite(queries: QueryClient, key: string): Promise<void> {
  const shown = { queryKey: ["site", key] };
  const first = queries.isFetching({ ...shown, predicate: (query) => query.state.data === undefined });
  await fetchAnew(queries, shown);
  if (first) await queries.invalidateQueries(shown);
}

/**
 * Fetch anew what a word at the bench or a reading changes: the sheets that are shown and how far the job is, not what
 * only a change of the site changes.
 */
export function invalidateWork(queries: QueryClient, key: string): Promise<void> {
  return fetchAnew(queries, {
    queryKey: ["site", key],
    predicate: ({ queryKey }) => queryKey[2] !== "frame",
  });
}

/**
 * A change of the site: afterwards, done or refused, everything shown of it is fetched anew. Where the answer is a
 * sheet itself, its name says so, and it is shown at once.
 */
export function useChange<Input, Output>(
  change: (key: string, input: Input) => Promise<Output>,
  answer?: keyof Sheets,
) {
  const key = useSiteKey();
  const queries = useQueryClient();
  return useMutation<Output, Refused, Input>({
    mutationFn: (input) => change(key, input),
    onSuccess: (sheet) => answer && showAnswer(queries, ["site", key, answer], sheet),
    onSettled: () => invalidateSite(queries, key),
  });
}

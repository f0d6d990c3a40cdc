import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useDeferredValue, useEffect } from "react";
import { Link, useSearchParams } from "react-router";
import { ask, client, type Schemas } from "./api/client";
import { momentOf } from "./parts/dates";
import { Empty, Loading, Trouble } from "./parts/Feedback";
import { SearchBox } from "./parts/SearchBox";
import { TopHead } from "./parts/TopHead";

/** What was changed, when, by whom: one search over the logs of all sites. */
export function EveryLog() {
  const [params, setParams] = useSearchParams();
  const typed = params.get("search") ?? "";
  const search = useDeferredValue(typed);
  useEffect(() => {
    document.title = "Find in every site · Tutelar";
  }, []);
  const pages = useInfiniteQuery({
    queryKey: ["log", search],
    enabled: search.trim() !== "",
    queryFn: ({ pageParam }) =>
      ask(
        client.GET("/api/log", {
          params: { query: { search, ...(pageParam && { before: pageParam }) } },
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (last) => (last.more ? last.lines.at(-1)?.id : undefined),
    placeholderData: (before) => before,
  });
  const lines = pages.data?.pages.flatMap((page) => page.lines) ?? [];
  return (
    <main className="relative mx-auto max-w-6xl px-4 py-6">
      <TopHead title="Find in every site" />
      <div className="max-w-xl pt-4 pb-3">
        <SearchBox
          label="An address, a serial number, a hardware address, a name, a word"
          value={typed}
          search={(words) => setParams(words ? { search: words } : {}, { replace: true })}
        />
      </div>
      <Things search={search} />
      {!search.trim() ? (
        <Empty title="What do you look for?">
          Devices, papers and the log of all sites. Addresses of today and of then are found, and hardware
          addresses in any spelling.
        </Empty>
      ) : pages.isPending ? (
        <Loading what="the log" />
      ) : pages.isError ? (
        <Trouble error={pages.error} retry={() => pages.refetch()} />
      ) : (
        <>
          <p className="sr-only" aria-live="polite">
            {lines.length} lines found
          </p>
          {lines.length === 0 && <p className="py-3">No site’s log has a line with all of that.</p>}
          <ol className={lines.length > 0 ? "border-t border-hair" : ""} aria-label="Lines found">
            {lines.map((line) => (
              <Row key={line.id} line={line} />
            ))}
          </ol>
          {pages.hasNextPage && (
            <button type="button" className="btn mt-4" onClick={() => pages.fetchNextPage()}>
              Show older lines
            </button>
          )}
        </>
      )}
    </main>
  );
}

/** Devices and papers of every site that answer to the same words. */
function Things({ search }: { search: string }) {
  const found = useQuery({
    queryKey: ["find", search],
    enabled: search.trim() !== "",
    queryFn: () => ask(client.GET("/api/find", { params: { query: { search } } })),
    placeholderData: (before) => before,
  });
  if (!search.trim()) return null;
  if (found.error) return <Trouble error={found.error} retry={() => found.refetch()} />;
  const { devices = [], papers = [], more = false } = found.data ?? {};
  return (
    <>
      {devices.length > 0 && (
        <section aria-label="Devices found" className="pb-5">
          <h2 className="pb-1 font-semibold">Devices</h2>
          <ul>
            {devices.map((item) => (
              <li
                key={`${item.site} ${item.key}`}
                className="grid gap-x-4 border-t border-hair py-1.5 text-list md:grid-cols-[11rem_1fr_9rem_11rem_8rem]"
              >
                <span className="min-w-0 truncate text-ink-2" title={item.site_name}>
                  {item.site_name}
                </span>
                <Link to={`/sites/${item.site}/devices/${item.key}`} className="min-w-0 truncate">
                  {item.name}
                  {item.place && `, ${item.place}`}
                </Link>
                <span className="font-mono">{item.address ?? "no address"}</span>
                <span className="font-mono">{item.mac ?? ""}</span>
                <span className="min-w-0 truncate font-mono" title={item.serial ?? ""}>
                  {item.serial ?? ""}
                </span>
              </li>
            ))}
          </ul>
          {more && <p className="text-small text-ink-2">There are more; another word narrows them down.</p>}
        </section>
      )}
      {papers.length > 0 && (
        <section aria-label="Papers found" className="pb-5">
          <h2 className="pb-1 font-semibold">Papers</h2>
          <ul>
            {papers.map((item) => (
              <li
                key={`${item.site} ${item.name}`}
                className="flex flex-wrap gap-x-4 border-t border-hair py-1.5 text-list"
              >
                <span className="text-ink-2">{item.site_name}</span> {item.title}
                {item.endings.map((ending) => (
                  <a
                    key={ending}
                    href={`/api/sites/${item.site}/files/${item.name}.${ending}`}
                    download
                    aria-label={`${item.title} of ${item.site_name} as ${ending.toUpperCase()}`}
                  >
                    {ending.toUpperCase()}
                  </a>
                ))}
              </li>
            ))}
          </ul>
        </section>
      )}
      <h2 className="pb-1 font-semibold">What was changed, when, by whom</h2>
    </>
  );
}

function Row({ line }: { line: Schemas["FoundLine"] }) {
  const to = line.name
    ? `/sites/${line.site}/devices/${line.subject}`
    : `/sites/${line.site}/log?search=${encodeURIComponent(line.subject === line.site ? "" : line.subject)}`;
  return (
    <li className="grid gap-x-4 border-b border-hair py-1.5 text-list md:grid-cols-[10rem_11rem_1fr_7rem]">
      <time dateTime={line.at} className="text-ink-2">
        {momentOf(line.at)}
      </time>
      <span className="min-w-0 truncate" title={line.site_name}>
        {line.gone ? `${line.site_name} (removed)` : <Link to={to}>{line.site_name}</Link>}
      </span>
      <span className="min-w-0 [overflow-wrap:anywhere]">{line.sentence}</span>
      <span className="text-ink-2 md:text-right">{line.by}</span>
    </li>
  );
}

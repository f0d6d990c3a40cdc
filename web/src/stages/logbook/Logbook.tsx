import { useInfiniteQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { useSearchParams } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { useSiteKey } from "../../api/site";
import { DeviceLink } from "../../parts/DeviceLink";
import { Page } from "../../parts/Page";
import { SearchBox } from "../../parts/SearchBox";
import { EntryForm } from "./EntryForm";

type Line = Schemas["LogLine"];

/** Everything that happened: what was changed, when, by whom; by device and by day. */
export function Logbook() {
  const site = useSiteKey();
  const [params, setParams] = useSearchParams();
  const device = params.get("device") ?? "";
  const day = params.get("day") ?? "";
  const [typed, setTyped] = useState(params.get("search") ?? "");
  const search = useDeferredValue(typed);
  const [correcting, setCorrecting] = useState<Line | null>(null);
  const pages = useInfiniteQuery({
    queryKey: ["site", site, "log", search, device, day],
    queryFn: ({ pageParam }) =>
      ask(
        client.GET("/api/sites/{key}/log", {
          params: {
            path: { key: site },
            query: { search, device, ...(day && { day }), ...(pageParam && { before: pageParam }) },
          },
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (last) => (last.more ? last.lines.at(-1)?.id : undefined),
    placeholderData: (before) => before,
  });
  const fetched = { ...pages, data: pages.data?.pages[0] };
  const lines = pages.data?.pages.flatMap((page) => page.lines) ?? [];
  function choose(name: string, value: string) {
    const next = new URLSearchParams(params);
    if (value) next.set(name, value);
    else next.delete(name);
    setParams(next, { replace: true });
  }
  const asked = new URLSearchParams({ ...(search && { search }), ...(device && { device }) }).toString();
  return (
    <Page title="Logbook" fetched={fetched}>
      {(loaded) => (
        <div className="flex flex-col gap-x-10 gap-y-6 pt-2 xl:flex-row">
          <section className="min-w-0 flex-1" aria-label="What happened">
            <div className="flex flex-wrap items-end gap-3 pb-3">
              <SearchBox label="Search: who, what, which device" value={typed} search={setTyped} />
              <label className="grid gap-1 text-small text-ink-2">
                Device
                <select
                  className="box max-w-56 text-ink"
                  value={device}
                  onChange={(event) => choose("device", event.target.value)}
                >
                  <option value="">every device</option>
                  {loaded.devices.map((item) => (
                    <option key={item.key} value={item.key}>
                      {item.name}
                    </option>
                  ))}
                </select>
              </label>
              <label className="grid gap-1 text-small text-ink-2">
                Day
                <input
                  type="date"
                  className="box text-ink"
                  value={day}
                  onChange={(event) => choose("day", event.target.value)}
                />
              </label>
              <span className="flex gap-4 text-small">
                <a
                  className="inline-flex min-h-11 items-center"
                  href={`/api/sites/${site}/logbook.csv?${asked}`}
                >
                  Save as CSV
                </a>
                <a
                  className="inline-flex min-h-11 items-center"
                  href={`/api/sites/${site}/logbook.pdf?${asked}`}
                >
                  Save as PDF
                </a>
              </span>
            </div>
            {lines.length === 0 && <p className="py-3 text-ink-2">Nothing in the logbook fits that.</p>}
            {byDay(lines).map(([title, group]) => (
              <section key={title} aria-label={title}>
                <h2 className="sticky top-0 bg-paper pt-3 pb-1 font-semibold">{title}</h2>
                <ol className="border-t border-hair">
                  {group.map((line) => (
                    <Row key={line.id} line={line} site={site} correct={() => setCorrecting(line)} />
                  ))}
                </ol>
              </section>
            ))}
            {pages.hasNextPage && (
              <button type="button" className="btn mt-4" onClick={() => pages.fetchNextPage()}>
                Show older lines
              </button>
            )}
          </section>
          <aside className="w-full max-xl:order-first xl:w-96" aria-label="Add to the logbook">
            <EntryForm
              key={correcting?.id ?? "new"}
              devices={loaded.devices}
              device={device}
              correcting={correcting}
              done={() => setCorrecting(null)}
            />
          </aside>
        </div>
      )}
    </Page>
  );
}

function Row({ line, site, correct }: { line: Line; site: string; correct: () => void }) {
  return (
    <li className="grid grid-cols-[3.5rem_1fr_auto] gap-x-3 border-b border-hair py-1.5 text-list">
      <time dateTime={line.at} className="font-mono text-small text-ink-2">
        {new Date(line.at).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" })}
      </time>
      <div className="min-w-0 [overflow-wrap:anywhere]">
        {line.subject !== line.name && (
          <span className="pr-2 text-small">
            <DeviceLink device={line.subject}>{line.name}</DeviceLink>
          </span>
        )}
        <span className={line.corrected.length > 0 ? "text-ink-2 line-through" : ""}>{line.sentence}</span>
        {line.corrects && <span className="text-small text-ink-2"> (corrects: {line.corrects})</span>}
        {line.corrected.map((later) => (
          <p key={later.at} className="text-small">
            Corrected by {later.by}: {later.sentence}
          </p>
        ))}
        {line.photo && (
          <a
            href={`/api/sites/${site}/log/photos/${line.photo}`}
            target="_blank"
            rel="noreferrer"
            className="block pt-1"
          >
            <img
              src={`/api/sites/${site}/log/photos/${line.photo}`}
              alt={`Photograph: ${line.sentence}`}
              className="max-h-40 border border-hair"
            />
          </a>
        )}
      </div>
      <span className="flex flex-wrap items-baseline justify-end gap-x-3 text-small text-ink-2">
        {line.by}
        <button
          type="button"
          className="min-h-6 underline pointer-coarse:min-h-11"
          aria-label={`Correct: ${line.sentence}`}
          onClick={correct}
        >
          Correct
        </button>
      </span>
    </li>
  );
}

function byDay(lines: Line[]): [string, Line[]][] {
  const days = new Map<string, Line[]>();
  for (const line of lines) {
    const title = new Date(line.at).toLocaleDateString("en-GB", { dateStyle: "full" });
    days.set(title, [...(days.get(title) ?? []), line]);
  }
  return [...days];
}

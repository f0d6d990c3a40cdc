import { useInfiniteQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { useSiteKey } from "../../api/site";
import { DeviceLink } from "../../parts/DeviceLink";
import { Trouble } from "../../parts/Feedback";
import { Forms } from "../../parts/Files";
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
  const asked = { ...(search && { search }), ...(device && { device }) };
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
                <Link
                  className="inline-flex min-h-11 items-center"
                  to={`/log${search && `?search=${encodeURIComponent(search)}`}`}
                >
                  Every site’s log
                </Link>
                <Forms name="logbook" title="Logbook" endings={["csv", "pdf"]} query={asked} />
              </span>
            </div>
            {lines.length === 0 && <p className="py-3 text-ink-2">Nothing in the logbook fits that.</p>}
            {byDay(lines).map(([title, group]) => (
              <section key={title} aria-label={title}>
                <h2 className="sticky top-0 bg-paper pt-3 pb-1 font-semibold">{title}</h2>
                <ol className="border-t border-hair">
                  {folded(group).map((lines) =>
                    lines.length < FOLD ? (
                      lines.map((line) => (
                        <Row key={line.id} line={line} site={site} correct={setCorrecting} />
                      ))
                    ) : (
                      <Fold key={lines[0]?.id} lines={lines} site={site} correct={setCorrecting} />
                    ),
                  )}
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

const FOLD = 4; // so many lines of one deed are one, that opens

/** Lines of one deed after each other, together; every other line alone. */
function folded(lines: Line[]): Line[][] {
  const found: Line[][] = [];
  for (const line of lines) {
    const last = found.at(-1);
    if (last && line.part_of !== null && last[0]?.part_of === line.part_of) last.push(line);
    else found.push([line]);
  }
  return found;
}

type Rows = { lines: Line[]; site: string; correct: (line: Line) => void };

/** Lines that differ in little more than their device: the first, and how many there are. */
function Fold({ lines, site, correct }: Rows) {
  const [open, setOpen] = useState(false);
  const [first, ...rest] = lines;
  if (!first) return null;
  return (
    <>
      <Row line={first} site={site} correct={correct} />
      {open && rest.map((line) => <Row key={line.id} line={line} site={site} correct={correct} />)}
      <li className="border-b border-hair py-1 pl-[4.25rem]">
        <Opener open={open} turn={() => setOpen(!open)} words={`${rest.length} more like it`} />
      </li>
    </>
  );
}

function Opener({ open, turn, words }: { open: boolean; turn: () => void; words: string }) {
  return (
    <button
      type="button"
      className="min-h-6 text-small underline pointer-coarse:min-h-11"
      aria-expanded={open}
      onClick={turn}
    >
      {open ? `Hide the ${words}` : `Show the ${words}`}
    </button>
  );
}

/** What one deed changed, a line a device and value, fetched when it is opened. */
function Parts({ line, site, correct }: { line: Line; site: string; correct: (line: Line) => void }) {
  const [open, setOpen] = useState(false);
  const under = useInfiniteQuery({
    queryKey: ["site", site, "log", "deed", line.id],
    enabled: open,
    queryFn: ({ pageParam }) =>
      ask(
        client.GET("/api/sites/{key}/log", {
          params: { path: { key: site }, query: { deed: line.id, ...(pageParam && { before: pageParam }) } },
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (last) => (last.more ? last.lines.at(-1)?.id : undefined),
  });
  const words = line.parts === 1 ? "line under it" : `${line.parts} lines under it`;
  return (
    <div>
      <Opener open={open} turn={() => setOpen(!open)} words={words} />
      {open && under.isError && <Trouble error={under.error} retry={() => under.refetch()} />}
      {open && (
        <ol className="border-t border-hair">
          {under.data?.pages
            .flatMap((page) => page.lines)
            .map((item) => (
              <Row key={item.id} line={item} site={site} correct={correct} />
            ))}
        </ol>
      )}
      {open && under.hasNextPage && (
        <button type="button" className="btn my-2" onClick={() => under.fetchNextPage()}>
          Show more of them
        </button>
      )}
    </div>
  );
}

function Row({ line, site, correct }: { line: Line; site: string; correct: (line: Line) => void }) {
  const leads = line.subject !== line.name && line.sentence.startsWith(line.name); // the sentence begins with the link
  return (
    <li className="grid grid-cols-[3.5rem_1fr_auto] gap-x-3 border-b border-hair py-1.5 text-list">
      <time dateTime={line.at} className="font-mono text-small text-ink-2">
        {new Date(line.at).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" })}
      </time>
      <div className="min-w-0 [overflow-wrap:anywhere]">
        {line.subject !== line.name && (
          <span className={leads ? "" : "pr-2 text-small"}>
            <DeviceLink device={line.subject}>{line.name}</DeviceLink>
          </span>
        )}
        <span className={line.corrected.length > 0 ? "text-ink-2 line-through" : ""}>
          {leads ? line.sentence.slice(line.name.length) : line.sentence}
        </span>
        {line.corrects && <span className="text-small text-ink-2"> (corrects: {line.corrects})</span>}
        {line.corrected.map((later) => (
          <p key={later.at} className="text-small">
            Corrected by {later.by}: {later.sentence}
          </p>
        ))}
        {line.parts > 0 && <Parts line={line} site={site} correct={correct} />}
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
          onClick={() => correct(line)}
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

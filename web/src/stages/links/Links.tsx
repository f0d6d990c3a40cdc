import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSheet, useSiteKey } from "../../api/site";
import { Empty, Trouble } from "../../parts/Feedback";
import { Forms } from "../../parts/Files";
import { Legend, type LegendEntry } from "../../parts/Legend";
import { NextBar } from "../../parts/NextBar";
import { Page, Problems } from "../../parts/Page";
import { PartTabs } from "../../parts/PartTabs";
import { StageNext } from "../../parts/StageNext";
import { useTruncated } from "../../parts/useTruncated";
import { useWidth } from "../../parts/useWidth";
import { LinkSlip } from "./LinkSlip";
import { LinkTable } from "./LinkTable";
import { LoomView } from "./LoomView";
import { type Beam, loomOf } from "./loom";
import { NewLink } from "./NewLink";
import { Numbers } from "./Numbers";
import { Proposal } from "./Proposal";
import { ThreadList } from "./ThreadList";
import { Tie } from "./Tie";
import { type Card, useAddLink } from "./useLink";
import { STATES, type State } from "./words";

type Sheet = Schemas["Links"];
const LOOM_FROM = 920;

/** What reports to what: the loom of all links, or the plan of their numbers. */
export function Links() {
  const sheet = useSheet("links");
  const [search, setSearch] = useSearchParams();
  const part = search.get("part") === "numbers" ? "numbers" : "loom";
  const numbers = useSheet("numbers", part === "numbers");
  const chosen = Number(search.get("link")) || null;
  const selected = chosen ?? sheet.data?.next_link ?? null; // the slip shows the next thing until one is chosen
  const open = search.get("open");
  const [gone, setGone] = useState<Card | null>(null);

  /** Change what the address bar holds; null takes a part out. */
  function go(parts: Record<string, string | null>) {
    const next = new URLSearchParams(search);
    for (const [name, value] of Object.entries(parts)) {
      if (value === null) next.delete(name);
      else next.set(name, value);
    }
    setSearch(next, { replace: true });
  }
  const close = () => go({ open: null, from: null });
  const data = sheet.data;
  return (
    <>
      <Page
        title="Links"
        fetched={(part === "numbers" ? numbers : sheet) as typeof sheet}
        aside={data && <Aside data={data} part={part} go={go} />}
      >
        {() => (
          <>
            {part === "numbers" && numbers.data && <Numbers data={numbers.data} />}
            {part === "loom" && data && (
              <div className="flex flex-col gap-6 pt-2 xl:flex-row">
                <div className="min-w-0 flex-1">
                  <Loom data={data} selected={chosen} search={search} go={go} />
                  {gone && <PutBack card={gone} done={() => setGone(null)} />}
                  <Problems problems={data.problems} />
                </div>
                <aside aria-label="Selected link" className="slip w-full self-start xl:w-82 xl:shrink-0">
                  {selected === null ? (
                    <p className="text-ink-2">
                      Choose a thread to see what it needs and what is typed at its ends.
                    </p>
                  ) : (
                    <LinkSlip
                      key={selected}
                      id={selected}
                      changing={open === "change"}
                      tie={() => go({ open: "tie" })}
                      removed={(card) => {
                        setGone(card);
                        go({ link: null });
                      }}
                    />
                  )}
                </aside>
              </div>
            )}
          </>
        )}
      </Page>
      {data && open === "new" && <NewLink kinds={data.kinds} start={search.get("from")} close={close} />}
      {open === "table" && <LinkTable close={close} />}
      {open === "proposal" && <Proposal close={close} />}
      {open === "tie" && selected !== null && <Tie id={selected} close={close} />}
      {data && part === "loom" && <Next data={data} selected={selected} go={go} />}
      {part === "numbers" && numbers.data && <NextNumber data={numbers.data} go={go} />}
    </>
  );
}

type Go = (parts: Record<string, string | null>) => void;

function Aside({ data, part, go }: { data: Sheet; part: "loom" | "numbers"; go: Go }) {
  const legend: LegendEntry[] = data.counts.map(({ state, number }) => [
    STATES[state].mark,
    STATES[state].word,
    number,
  ]);
  return (
    <>
      <PartTabs
        label="Parts of the links"
        parts={{ loom: "Threads", numbers: "Numbers" }}
        part={part}
        show={(name) => go({ part: name === "loom" ? null : name })}
      />
      <Legend label="What the threads show" entries={legend} />
      <span className="flex flex-wrap gap-x-4 text-small lg:ml-auto">
        <button
          type="button"
          className="min-h-11 underline underline-offset-4"
          onClick={() => go({ open: "new" })}
        >
          New link
        </button>
        <button
          type="button"
          className="min-h-11 underline underline-offset-4"
          onClick={() => go({ open: "proposal" })}
        >
          Propose
        </button>
        <button
          type="button"
          className="min-h-11 underline underline-offset-4"
          onClick={() => go({ open: "table" })}
        >
          From a table
        </button>
        <Link className="inline-flex min-h-11 items-center" to="../remote">
          Remote access
        </Link>
        <Forms name="links" title="Links" endings={["csv", "xlsx"]} />
      </span>
    </>
  );
}

/** The threads that the filters leave, as a loom or, where it is narrow, one below the other. */
function Loom({
  data,
  selected,
  search,
  go,
}: {
  data: Sheet;
  selected: number | null;
  search: URLSearchParams;
  go: Go;
}) {
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set());
  const wide = useWidth() >= LOOM_FROM;
  const [place, state, to] = ["place", "state", "to"].map((name) => search.get(name) ?? "");
  const total = data.beams.reduce((sum, beam) => sum + beam.threads.length, 0);
  const beams: Beam[] = data.beams
    .filter((beam) => !to || beam.key === to)
    .map((beam) => ({
      ...beam,
      threads: beam.threads.filter(
        (thread) => (!place || thread.place === place) && (!state || thread.state === state),
      ),
    }))
    .filter((beam) => beam.threads.length > 0);
  if (total === 0)
    return (
      <>
        <Untied untied={data.untied} go={go} />
        <Empty title="No link yet">
          Cameras are tied to a recorder’s channels, monitors to their station, readers to a door. Propose
          says what could be tied.
        </Empty>
      </>
    );
  const left = beams.reduce((sum, beam) => sum + beam.threads.length, 0);
  const targets = new Map(data.beams.map((beam) => [beam.key, beam.name]));
  return (
    <>
      <div className="flex flex-wrap items-end gap-3">
        <Filter
          label="Place"
          value={place ?? ""}
          choices={data.places.map((name) => [name, name])}
          choose={(value) => go({ place: value })}
        />
        <Filter
          label="State"
          value={state ?? ""}
          choices={data.counts
            .filter((count) => count.number > 0)
            .map((count) => [count.state, STATES[count.state as State].word])}
          choose={(value) => go({ state: value })}
        />
        <Filter
          label="Target"
          value={to ?? ""}
          choices={[...targets]}
          choose={(value) => go({ to: value })}
        />
        {left < total && (
          <button
            type="button"
            className="min-h-11 text-small underline underline-offset-4"
            onClick={() => go({ place: null, state: null, to: null })}
          >
            {left} of {total}: show all
          </button>
        )}
        {unfolded.size > 0 && (
          <button
            type="button"
            className="min-h-11 text-small underline underline-offset-4"
            onClick={() => setUnfolded(new Set())}
          >
            Fold again
          </button>
        )}
      </div>
      <Untied untied={data.untied} go={go} />
      {left === 0 && <p className="py-6 text-ink-2">No thread is like that.</p>}
      {wide ? (
        <LoomView
          loom={loomOf(beams, data.places, unfolded, selected)}
          selected={selected}
          select={(id) => go({ link: String(id) })}
          unfold={(key) => setUnfolded(new Set([...unfolded, key]))}
        />
      ) : (
        <ThreadList
          beams={beams}
          selected={selected}
          select={(id) => go({ link: String(id), open: "tie" })}
        />
      )}
    </>
  );
}

/** Devices that are not finished without a link. */
function Untied({ untied, go }: { untied: Sheet["untied"]; go: Go }) {
  const [shown, more] = useTruncated(untied, 8);
  if (untied.length === 0) return null;
  return (
    <section
      aria-label="Not tied to anything"
      className="mt-3 border-y-2 border-brass-fill bg-brass-wash px-3 py-1"
    >
      <ul className="flex flex-wrap items-center gap-x-5">
        <li className="font-semibold">Not tied to anything:</li>
        {shown.map((device) => (
          <li key={device.key}>
            <button
              type="button"
              className="min-h-11 underline underline-offset-4"
              onClick={() => go({ open: "new", from: device.key })}
            >
              {device.name}
            </button>
          </li>
        ))}
      </ul>
      {more}
    </section>
  );
}

function Filter({
  label,
  value,
  choices,
  choose,
}: {
  label: string;
  value: string;
  choices: (readonly [string, string])[];
  choose: (value: string | null) => void;
}) {
  return (
    <label className="flex items-center gap-2 text-small">
      {label}
      <select
        className="box min-h-9 max-md:min-h-11 max-w-44 text-small"
        value={value}
        onChange={(event) => choose(event.target.value || null)}
      >
        <option value="">all</option>
        {choices.map(([key, word]) => (
          <option key={key} value={key}>
            {word}
          </option>
        ))}
      </select>
    </label>
  );
}

/** A link that was untied comes back as it was. */
function PutBack({ card, done }: { card: Card; done: () => void }) {
  const add = useAddLink();
  const { word: kind, start, to, slot, from_channel, to_channel, at, account } = card;
  const side = card.side === "in" || card.side === "out" ? card.side : null;
  return (
    <div className="my-3 border-l-4 border-kelp pl-3" role="status">
      <p>
        {card.start_name} is untied from {card.to_name}.{" "}
        <button
          type="button"
          className="min-h-11 font-semibold underline underline-offset-4"
          onClick={() =>
            add.mutate(
              { kind, start, to, slot, from_channel, to_channel, side, at, account },
              { onSuccess: done },
            )
          }
        >
          Tie it again
        </button>
      </p>
      {add.error && <Trouble error={add.error} />}
    </div>
  );
}

function Next({ data, selected, go }: { data: Sheet; selected: number | null; go: Go }) {
  const navigate = useNavigate();
  const site = useSiteKey();
  const thread = data.beams.flatMap((beam) => beam.threads).find((item) => item.id === data.next_link);
  function press(): { label: string; run: () => void } | undefined {
    if (!thread) return;
    const link = String(thread.id);
    const waits =
      thread.state === "waiting" && thread.where && thread.where !== "links" ? thread.where : null;
    if (selected !== thread.id)
      return { label: "Show it", run: () => go({ link, place: null, state: null, to: null }) };
    if (waits) return { label: `Go to the ${waits}`, run: () => navigate(`/sites/${site}/${waits}`) };
    if (thread.state === "impossible")
      return { label: "Change or untie it", run: () => go({ open: "change", link }) };
    if (thread.state === "broken" || thread.state === "doubtful")
      return { label: "See both ends", run: () => go({ open: "tie", link }) };
    return { label: "Type its values", run: () => go({ open: "tie", link }) };
  }
  return (
    <StageNext
      stage="links"
      acts={({ act }) =>
        act === "proposal"
          ? { label: "See what could be tied", run: () => go({ open: "proposal" }) }
          : act === "link"
            ? press()
            : undefined
      }
    />
  );
}

function NextNumber({ data, go }: { data: Schemas["Numbers"]; go: Go }) {
  const apply = useChange((key, revision: number) =>
    ask(client.POST("/api/sites/{key}/numbers", { params: { path: { key } }, body: { revision } })),
  );
  if (apply.error)
    return <NextBar sentence={apply.error.message} go={{ label: "Go on", key: " ", run: apply.reset }} />;
  const missing = data.rows.find((row) => row.source === "missing");
  if (data.planned > 0)
    return (
      <NextBar
        sentence={`Set ${data.planned} ${data.planned === 1 ? "number" : "numbers"} as planned.`}
        detail="What is set stays."
        go={{
          label: "Set them",
          key: " ",
          run: () => apply.mutate(data.revision),
          disabled: apply.isPending,
        }}
      />
    );
  return (
    <NextBar
      sentence={missing ? missing.why : "Every link has its number."}
      detail={missing ? `${missing.device} waits.` : ""}
      go={{ label: "Back to the threads", key: " ", run: () => go({ part: null }) }}
    />
  );
}

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { useSiteKey } from "../../api/site";
import { DeviceLink } from "../../parts/DeviceLink";
import { Empty, Loading, Trouble } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";
import { NextBar } from "../../parts/NextBar";
import { Page } from "../../parts/Page";
import { CardList } from "./CardList";
import { type Phase, useCard } from "./useCard";

type Sheet = Schemas["CardsSheet"];
type Short = Sheet["cards"][number];

/** Job cards: what is easily left out, by the part of the work and in walking order. */
export function Cards() {
  const key = useSiteKey();
  const [search, setSearch] = useSearchParams();
  const wanted = search.get("part") ?? "";
  const sheet = useQuery({
    queryKey: ["site", key, "cards", wanted],
    queryFn: () =>
      ask(client.GET("/api/sites/{key}/cards", { params: { path: { key }, query: { phase: wanted } } })),
    placeholderData: keepPreviousData,
  });
  const data = sheet.data;
  const open = data?.cards.filter((card) => card.open > 0) ?? [];
  const chosen = data?.cards.find((card) => card.subject === search.get("of")) ?? open[0] ?? data?.cards[0];
  const card = useCard(chosen?.subject);
  const next = open.find((item) => item.subject !== chosen?.subject);
  const word = data?.phases.find((phase) => phase.key === data.phase)?.word ?? "";
  // what was chosen last, while its sheet is still on its way
  const part = data?.phases.find((phase) => phase.key === wanted)?.key ?? data?.phase;
  const show = (part: string, of?: string) => setSearch(of ? { part, of } : { part }, { replace: true });
  const here = card.data?.rows.filter((row) => row.phase === data?.phase) ?? [];
  const first = here.find((row) => row.state === "open");
  return (
    <>
      <Page
        title="Job cards"
        fetched={sheet}
        aside={
          <>
            <Link className="ml-auto inline-flex min-h-11 items-center text-small" to={`/sites/${key}/asked`}>
              Questions to others
            </Link>
            <a className="text-small" href={`/api/sites/${key}/files/cards.pdf`} download>
              On paper (PDF)
            </a>
            <Link className="inline-flex min-h-11 items-center text-small" to="/cards">
              Your firm’s own items
            </Link>
          </>
        }
      >
        {(found) =>
          found.empty ? (
            <Empty title="There is no card yet">The kit holds no device.</Empty>
          ) : (
            <div className="grid gap-x-8 gap-y-4 pt-2 xl:grid-cols-[13rem_17rem_minmax(0,1fr)]">
              <Phases sheet={found} at={part ?? found.phase} show={show} />
              <Shorts cards={found.cards} chosen={chosen} show={(of) => show(part ?? found.phase, of)} />
              <section aria-label="The card" className="min-w-0">
                {chosen && (
                  <h2 className="text-lead font-semibold [overflow-wrap:anywhere]">
                    {chosen.subject === "site" ? (
                      chosen.name
                    ) : (
                      <DeviceLink device={chosen.subject}>{chosen.name}</DeviceLink>
                    )}
                    <span className="block text-small font-normal text-ink-2">
                      {[word, chosen.place, chosen.model].filter(Boolean).join(" · ")}
                    </span>
                  </h2>
                )}
                {card.isPending && chosen && <Loading what="the card" />}
                {card.error && <Trouble error={card.error} retry={() => card.refetch()} />}
                {card.data && (
                  <CardList
                    key={card.data.subject}
                    subject={card.data.subject}
                    rows={here}
                    atOnce={card.data.at_once}
                  />
                )}
                {!chosen && <p className="py-3 text-ink-2">Nothing of this part applies here.</p>}
              </section>
            </div>
          )
        }
      </Page>
      {data && !data.empty && (
        <NextBar
          sentence={
            card.isLoading
              ? `${chosen?.name} …`
              : first
                ? `${chosen?.name}: ${first.text}.`
                : open.length > 0
                  ? `Next card: ${open[0]?.name}.`
                  : `${word}: nothing is open.`
          }
          go={
            next
              ? { label: "Next card", key: "n", run: () => show(data.phase, next.subject) }
              : data.turn !== data.phase
                ? { label: "To what is open", key: "n", run: () => show(data.turn) }
                : undefined
          }
        />
      )}
    </>
  );
}

function Phases({ sheet, at, show }: { sheet: Sheet; at: Phase; show: (part: Phase) => void }) {
  return (
    <nav aria-label="Parts of the work" className="min-w-0">
      <label className="grid gap-0.5 text-cell xl:hidden">
        part of the work
        <select
          aria-label="part of the work"
          className="box w-full"
          value={at}
          onChange={(event) => show(event.target.value as Phase)}
        >
          {sheet.phases.map((phase) => (
            <option key={phase.key} value={phase.key}>
              {phase.word} ({phase.open} open)
            </option>
          ))}
        </select>
      </label>
      <ol className="max-xl:hidden">
        {sheet.phases.map((phase) => (
          <li key={phase.key} className="border-t border-hair">
            <button
              type="button"
              aria-current={phase.key === at ? "page" : undefined}
              className={`flex min-h-11 w-full items-center gap-2 px-2 ${phase.key === at ? "bg-wash font-bold" : ""}`}
              onClick={() => show(phase.key)}
            >
              <Mark
                name={phase.all === 0 ? "unread" : phase.open === 0 ? "set" : "planned"}
                word={phase.all === 0 ? "nothing applies" : phase.open === 0 ? "settled" : "open"}
              />
              <span className="min-w-0 flex-1">{phase.word}</span>
              <span className="text-small text-ink-2">{phase.open > 0 ? `${phase.open} open` : ""}</span>
            </button>
          </li>
        ))}
      </ol>
    </nav>
  );
}

function Shorts({
  cards,
  chosen,
  show,
}: {
  cards: Short[];
  chosen: Short | undefined;
  show: (of: string) => void;
}) {
  if (cards.length === 0) return <span />;
  return (
    <nav aria-label="Cards of this part" className="min-w-0">
      <label className="grid gap-0.5 text-cell xl:hidden">
        card
        <select
          aria-label="card"
          className="box w-full"
          value={chosen?.subject ?? ""}
          onChange={(event) => show(event.target.value)}
        >
          {cards.map((card) => (
            <option key={card.subject} value={card.subject}>
              {card.name}
              {card.place ? `, ${card.place}` : ""} ({card.open} open)
            </option>
          ))}
        </select>
      </label>
      <ul className="max-h-[70dvh] overflow-auto max-xl:hidden">
        {cards.map((card) => (
          <li key={card.subject} className="border-t border-hair">
            <button
              type="button"
              aria-current={card.subject === chosen?.subject ? "true" : undefined}
              className={`flex min-h-11 w-full items-center justify-between gap-3 px-2 ${
                card.subject === chosen?.subject ? "bg-wash font-bold" : ""
              }`}
              onClick={() => show(card.subject)}
            >
              <span className="min-w-0">
                <span className="block truncate">{card.name}</span>
                {card.place && (
                  <span className="block truncate text-small font-normal text-ink-2">{card.place}</span>
                )}
              </span>
              <span className="text-small font-normal whitespace-nowrap text-ink-2">
                {card.open > 0 ? `${card.open} open` : "settled"}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </nav>
  );
}

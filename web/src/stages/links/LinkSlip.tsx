import { Link } from "react-router";
import { DeviceLink } from "../../parts/DeviceLink";
import { Loading, Trouble } from "../../parts/Feedback";
import { Mark, State } from "../../parts/Mark";
import { upper } from "../../parts/words";
import { LinkForm } from "./LinkForm";
import { RoomBar } from "./RoomBar";
import { type Card, useLink } from "./useLink";
import { STATES, seatWord, stateWord } from "./words";

/** What the chosen link needs, and the ways on: type its values, witness it, move it, remove it. */
export function LinkSlip({
  id,
  changing,
  tie,
  removed,
}: {
  id: number;
  changing: boolean;
  tie: () => void;
  removed: (card: Card) => void;
}) {
  const link = useLink(id);
  if (link.isPending) return <Loading what="the link" />;
  if (!link.data) return <Trouble error={link.error} retry={() => link.refetch()} />;
  const card = link.data;
  const look = STATES[card.state];
  const inside = card.targets.some((target) => target.key === card.to);
  const missing = card.needs.filter((need) => !need.met);
  const met = card.needs.filter((need) => need.met);
  const lines = card.groups.filter((group) => group.key).flatMap((group) => group.lines);
  const typed = lines.filter((line) => line.ticked).length;
  const seen = card.tests.filter((test) => test.state === "proven").length;
  return (
    <>
      <p className="flex items-center justify-between gap-3 text-small text-ink-2">
        {card.title}
        <State name={look.mark}>{stateWord(card)}</State>
      </p>
      <h2 className="text-lead leading-6 font-semibold [overflow-wrap:anywhere]">
        <DeviceLink device={card.start}>{card.start_name}</DeviceLink>
      </h2>
      <p className="text-ink-2 [overflow-wrap:anywhere]">
        {card.number_word && (
          <b className="font-mono font-semibold text-ink">{seatWord(card.number_word, card.slot)}</b>
        )}
        {card.number_word && " of "}
        {card.to_name}
      </p>
      {card.state === "doubtful" && (
        <ul className="mt-2 border-l-4 border-brass-fill pl-3 text-small">
          {[...new Set(card.tests.flatMap((test) => test.changed))].map((word) => (
            <li key={word}>{upper(word)}.</li>
          ))}
          {card.tests.every((test) => test.changed.length === 0) && <li>{card.reason}.</li>}
        </ul>
      )}
      {card.state === "broken" && (
        <p className="mt-2 border-l-4 border-red pl-3 text-small">
          {card.reason}. <Link to={`../faults?device=${card.start}`}>Find the fault</Link>
        </p>
      )}
      <p className="text-small">
        <Link
          className="inline-flex min-h-11 items-center"
          to={`../faults?from=${card.start}&to=${inside ? card.to : "outside"}`}
        >
          Can it be reached?
        </Link>
      </p>
      <h3 className="mt-3 border-b border-hair pb-1 text-small text-ink-2">What it needs</h3>
      <ul>
        {missing.map((need) => (
          <li key={need.key} className="-mx-5 border-y-2 border-brass-fill bg-brass-wash px-5 py-2">
            <span className="flex items-start gap-2">
              <span className="mt-1">
                <Mark name={need.never ? "cut" : "loose"} word={need.never ? "cannot be made" : "waiting"} />
              </span>
              <span className="min-w-0 font-semibold [overflow-wrap:anywhere]">
                {need.words[0]?.toUpperCase()}
                {need.words.slice(1)}.
              </span>
            </span>
            {need.whose && need.whose !== "you" && (
              <span className="block pl-6 text-small">Waits for {need.whose}.</span>
            )}
            {need.nearest && <span className="block pl-6 text-small">{need.nearest}.</span>}
          </li>
        ))}
      </ul>
      <details className="border-b border-hair py-1 text-small" open={missing.length === 0 && met.length < 5}>
        <summary className="min-h-9 max-md:min-h-11 cursor-pointer py-1.5">
          {met.length} of {card.needs.length} are there
        </summary>
        <ul>
          {met.map((need) => (
            <li key={need.key} className="flex items-start gap-2 border-t border-hair py-1">
              <span className="mt-0.5">
                <Mark name="set" />
              </span>
              <span className="min-w-0 [overflow-wrap:anywhere]">{need.words}.</span>
            </li>
          ))}
        </ul>
      </details>
      {card.rooms.map((room) => (
        <RoomBar key={room.word} room={room} target={card.to_name} start={card.start_name} />
      ))}
      {card.state === "impossible" ? (
        <p className="pt-3 text-small">
          There is nothing to type or to test while it cannot be made; it takes no number either.
        </p>
      ) : (
        <>
          <button type="button" className="btn btn-main mt-3 w-full justify-center" onClick={tie}>
            {typed < lines.length ? "Type its values" : "Test it"}
          </button>
          <p className="pt-1 text-note text-ink-2">
            {typed} of {lines.length} values typed, {seen} of {card.tests.length} tests seen.
          </p>
        </>
      )}
      <LinkForm card={card} open={changing} removed={removed} />
    </>
  );
}

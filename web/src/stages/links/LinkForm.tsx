import { type FormEvent, useState } from "react";
import type { Schemas } from "../../api/client";
import { upper } from "../../parts/words";
import { type Card, useChangeLink, useRemoveLink } from "./useLink";
import { WantedAnyway } from "./WantedAnyway";
import { seatWord } from "./words";

const LABELS: Record<string, string> = {
  from_channel: "Channel of the start",
  to_channel: "Channel there",
  side: "Side of the door",
  account: "Account",
  at: "Address outside",
  address: "Multicast address",
  port: "Port",
  priority: "Priority",
};
const NUMBERS = new Set(["from_channel", "to_channel", "port", "priority"]);

function slotOf(card: Card): string {
  return card.slot === null ? "" : String(card.slot);
}

function fieldsOf(card: Card): Record<string, string> {
  return Object.fromEntries(card.fields.map((name) => [name, String(card[name as keyof Card] ?? "")]));
}

/** Where a link leads and its number there; taken numbers say by whom. */
export function LinkForm({
  card,
  open,
  removed,
}: {
  card: Card;
  open: boolean;
  removed: (card: Card) => void;
}) {
  const [based, setBased] = useState(card); // what the change is based on: somebody else may change it meanwhile
  const [to, setTo] = useState(card.to);
  const [slot, setSlot] = useState(slotOf(card));
  const [more, setMore] = useState(() => fieldsOf(card));
  const change = useChangeLink(card.id);
  const remove = useRemoveLink(() => removed(card));
  const moved = to !== based.to;
  const stood = fieldsOf(based);
  const same = !moved && slot === slotOf(based) && card.fields.every((name) => more[name] === stood[name]);
  function rebase() {
    setBased(card);
    setTo(card.to);
    setSlot(slotOf(card));
    setMore(fieldsOf(card));
    change.reset();
  }
  const newer = card.revision !== based.revision;
  if (newer && (same || change.isSuccess)) rebase();

  function store(wanted: boolean) {
    const parts: Record<string, string | number | null> = {};
    for (const name of card.fields) {
      const text = more[name]?.trim() ?? "";
      parts[name] = text === "" ? null : NUMBERS.has(name) ? Number(text) : text;
    }
    const number = card.number_word === null ? {} : { slot: slot === "" || wanted ? null : Number(slot) };
    const wish = wanted ? { wanted } : {};
    change.mutate({ revision: based.revision, to, ...number, ...parts, ...wish } as Schemas["LinkChange"]);
  }
  function submit(event: FormEvent) {
    event.preventDefault();
    store(false);
  }
  const error = change.error ?? remove.error;
  return (
    <details className="mt-3 border-t border-hair pt-1" open={open}>
      <summary className="min-h-11 cursor-pointer py-2.5 font-semibold">Change or untie it</summary>
      <form onSubmit={submit} className="grid grid-cols-[minmax(0,1fr)] gap-3 pb-1">
        {card.targets.length > 0 && (
          <label className="grid min-w-0 gap-1 text-small font-semibold">
            Leads to
            <select
              className="box w-full min-w-0 font-normal"
              value={to}
              onChange={(event) => {
                setTo(event.target.value);
                setSlot("");
              }}
            >
              {!card.targets.some((target) => target.key === card.to) && (
                <option value={card.to}>{card.to_name}</option>
              )}
              {card.targets.map((target) => (
                <option key={target.key} value={target.key}>
                  {target.name}
                </option>
              ))}
            </select>
          </label>
        )}
        {card.number_word && (
          <label className="grid min-w-0 gap-1 text-small font-semibold">
            {upper(card.number_word)}
            {moved ? (
              <input
                className="box min-w-0 font-mono font-normal"
                inputMode="numeric"
                value={slot}
                placeholder="none yet"
                onChange={(event) => setSlot(event.target.value.replace(/\D/g, ""))}
              />
            ) : (
              <select
                className="box w-full min-w-0 font-mono font-normal"
                value={slot}
                onChange={(event) => setSlot(event.target.value)}
              >
                <option value="">{seatWord(card.number_word, null)}</option>
                {card.seats.map((seat) => (
                  <option key={seat.number} value={seat.number} disabled={seat.holder !== null}>
                    {seat.number}
                    {seat.holder ? ` (${seat.holder})` : ""}
                  </option>
                ))}
                {slot !== "" && !card.seats.some((seat) => String(seat.number) === slot) && (
                  <option value={slot}>{slot}</option>
                )}
              </select>
            )}
          </label>
        )}
        {card.fields.map((name) => (
          <label key={name} className="grid min-w-0 gap-1 text-small font-semibold">
            {name === "from_channel" && card.kind === "alarm-path" ? "Path" : LABELS[name]}
            {name === "side" ? (
              <select
                className="box w-full font-normal"
                value={more[name]}
                onChange={(event) => setMore({ ...more, [name]: event.target.value })}
              >
                <option value="">one reader</option>
                <option value="in">outside, going in</option>
                <option value="out">inside, going out</option>
              </select>
            ) : (
              <input
                className="box min-w-0 font-mono font-normal"
                inputMode={NUMBERS.has(name) ? "numeric" : undefined}
                value={more[name]}
                onChange={(event) =>
                  setMore({
                    ...more,
                    [name]: NUMBERS.has(name) ? event.target.value.replace(/\D/g, "") : event.target.value,
                  })
                }
              />
            )}
          </label>
        ))}
        {error && <WantedAnyway error={error} keep={() => store(true)} />}
        {newer && !same && (
          <button type="button" className="btn justify-self-start" onClick={rebase}>
            Take over what stands now
          </button>
        )}
        <span className="flex flex-wrap gap-3">
          <button type="submit" className="btn btn-main" disabled={same || change.isPending}>
            Save the change
          </button>
          <button
            type="button"
            className="btn"
            disabled={remove.isPending || change.isPending} // until what was saved is fetched: its revision is asked for
            onClick={() => remove.mutate({ id: card.id, revision: card.revision })}
          >
            Untie it
          </button>
        </span>
      </form>
    </details>
  );
}

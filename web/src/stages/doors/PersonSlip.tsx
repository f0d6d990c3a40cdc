import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Refused, type Schemas } from "../../api/client";
import { useSiteKey } from "../../api/site";
import { Loading, Trouble } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";
import { slug } from "../../parts/slug";
import type { AccessSheet, Person } from "./Access";
import { DayBands } from "./DayBands";
import { tidy, useItem } from "./useItem";

type Card = { format: string; facility?: number; number: number; lost?: boolean };

/** One person: groups, days, cards, and the week of every door. */
export function PersonSlip({
  person,
  data,
  close,
  taken,
}: {
  person?: Person | undefined;
  data: AccessSheet;
  close: () => void;
  taken: number;
}) {
  const key = useSiteKey();
  const part = (person?.part ?? {}) as Record<string, unknown>;
  const [name, setName] = useState(person?.name ?? "");
  const [groups, setGroups] = useState(person?.groups.join(", ") ?? "");
  const [from, setFrom] = useState(person?.valid_from ?? "");
  const [to, setTo] = useState(person?.valid_to ?? "");
  const cards = (part.cards as Card[] | undefined) ?? [];
  const change = useItem();
  const fresh = slug(name) || "person";
  const namesake = data.people.some((other) => other.key === fresh);
  const item = person?.key ?? (namesake ? `${fresh}-${taken + 1}` : fresh);
  const week = useQuery({
    queryKey: ["site", key, "person", person?.key],
    queryFn: () =>
      ask(
        client.GET("/api/sites/{key}/access/week/{person}", {
          params: { path: { key, person: person?.key ?? "" } },
        }),
      ),
    enabled: person !== undefined,
  });
  const store = (now: Record<string, unknown> | null, then?: () => void) =>
    change.mutate({ kind: "people", item, was: person ? part : null, now }, { onSuccess: () => then?.() });
  const whole = (more: Record<string, unknown> = {}) => ({
    ...part,
    ...tidy({ key: item, name: name.trim(), valid_from: from, valid_to: to }),
    groups: groups
      .split(/[,;]/)
      .map((word) => slug(word.trim()))
      .filter(Boolean),
    ...(from ? {} : { valid_from: null }),
    ...(to ? {} : { valid_to: null }),
    cards,
    ...more,
  });
  return (
    <fieldset disabled={change.isPending} className="min-w-0">
      <div className="flex items-start justify-between gap-2">
        <h2 className="text-lead font-semibold">{person?.name ?? "New person"}</h2>
        <button
          type="button"
          className="min-h-11 px-2 text-small underline underline-offset-4"
          onClick={close}
        >
          All people
        </button>
      </div>
      <form
        className="grid gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          store(whole(), person ? undefined : close);
        }}
      >
        <label className="grid gap-1 text-small">
          Name
          <input
            className="box"
            value={name}
            maxLength={200}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <label className="grid gap-1 text-small">
          Groups
          <input
            className="box"
            value={groups}
            placeholder={data.people_groups
              .slice(0, 2)
              .map((group) => group.key)
              .join(", ")}
            onChange={(event) => setGroups(event.target.value)}
          />
        </label>
        <div className="grid grid-cols-2 gap-2">
          <label className="grid gap-1 text-small">
            From
            <input
              type="date"
              className="box min-w-0"
              value={from}
              onChange={(event) => setFrom(event.target.value)}
            />
          </label>
          <label className="grid gap-1 text-small">
            Until, the day itself too
            <input
              type="date"
              className="box min-w-0"
              value={to}
              onChange={(event) => setTo(event.target.value)}
            />
          </label>
        </div>
        {from && to && to < from && (
          <p role="alert" className="text-small font-semibold text-red">
            Until {to} lies before from {from}: nobody could pass.
          </p>
        )}
        <span className="flex flex-wrap gap-2">
          <button
            type="submit"
            className="btn"
            disabled={!name.trim() || (from !== "" && to !== "" && to < from)}
          >
            {person ? "Save" : "Add"}
          </button>
          {person && (
            <button
              type="button"
              className="btn"
              onClick={() => store(null, close)}
              disabled={change.isPending}
            >
              Remove
            </button>
          )}
        </span>
        {change.error && <Trouble error={change.error} />}
      </form>
      {person && (
        <>
          <h3 className="mt-3 border-b border-hair font-semibold">Cards</h3>
          <ul>
            {cards.map((card, at) => (
              <li
                // biome-ignore lint/suspicious/noArrayIndexKey: two cards may carry the same number
                key={at}
                className="flex flex-wrap items-center gap-2 border-b border-hair py-1 text-small"
              >
                <Mark name={card.lost ? "cut" : "set"} word={card.lost ? "lost" : "in use"} />
                <span className="font-mono">
                  {card.facility !== undefined ? `${card.facility}·` : ""}
                  {card.number}
                </span>
                <span className="text-ink-2">{card.format}</span>
                <button
                  type="button"
                  className="ml-auto min-h-11 underline underline-offset-4"
                  onClick={() =>
                    store(
                      whole({
                        cards: cards.map((one, place) => (place === at ? { ...one, lost: !one.lost } : one)),
                      }),
                    )
                  }
                >
                  {card.lost ? "It was found" : "It is lost"}
                </button>
              </li>
            ))}
          </ul>
          <NewCard data={data} owner={person.key} add={(card) => store(whole({ cards: [...cards, card] }))} />
          <h3 className="mt-3 font-semibold">Week</h3>
          {week.isPending && <Loading what="the week" />}
          {week.error && <Trouble error={week.error as Refused} />}
          {week.data && <p className="text-small text-ink-2">{week.data.said}</p>}
          {week.data?.doors.map((door) => (
            <DayBands key={door.door} name={door.name} days={door.days} />
          ))}
        </>
      )}
    </fieldset>
  );
}

/** A card read or typed: whether its number fits, what it would be cut to, and whose that would be. */
function NewCard({ data, owner, add }: { data: AccessSheet; owner: string; add: (card: Card) => void }) {
  const key = useSiteKey();
  const [form, setForm] = useState("w26");
  const [facility, setFacility] = useState("");
  const [number, setNumber] = useState("");
  const digits = /^\d{1,18}$/.test(number) && (facility === "" || /^\d{1,9}$/.test(facility));
  const found = useQuery<Schemas["CardRow"], Refused>({
    queryKey: ["site", key, "card", form, facility, number, owner],
    queryFn: () =>
      ask(
        client.GET("/api/sites/{key}/access/card", {
          params: {
            path: { key },
            query: {
              form,
              number: Number(number),
              ...(facility ? { facility: Number(facility) } : {}),
              owner,
            },
          },
        }),
      ),
    enabled: digits,
    retry: false,
  });
  return (
    <fieldset className="grid gap-2 pt-2">
      <legend className="text-small font-semibold">
        New card: hold it to a reader, or type what is printed on it
      </legend>
      <div className="flex flex-wrap gap-2">
        <select
          aria-label="Card format"
          className="box"
          value={form}
          onChange={(event) => setForm(event.target.value)}
        >
          {data.formats.map((item) => (
            <option key={item.value} value={item.value}>
              {item.word}
            </option>
          ))}
        </select>
        <input
          aria-label="Facility code"
          className="box w-24 font-mono"
          placeholder="facility"
          inputMode="numeric"
          value={facility}
          onChange={(event) => setFacility(event.target.value.trim())}
        />
        <input
          aria-label="Card number"
          className="box w-36 font-mono"
          placeholder="number"
          inputMode="numeric"
          value={number}
          onChange={(event) => setNumber(event.target.value.trim())}
        />
      </div>
      {found.data && digits && (
        <p className={`text-small ${found.data.fits ? "" : "font-semibold text-brass"}`} aria-live="polite">
          {found.data.said}
          {found.data.bits && <span className="block font-mono text-cell break-all">{found.data.bits}</span>}
        </p>
      )}
      {found.error && <Trouble error={found.error} />}
      {number !== "" && !digits && (
        <p className="text-small font-semibold text-red">“{number}” is no card number.</p>
      )}
      <button
        type="button"
        className="btn justify-self-start"
        disabled={!digits || !found.data?.fits}
        onClick={() => {
          add({ format: form, number: Number(number), ...(facility ? { facility: Number(facility) } : {}) });
          setNumber("");
        }}
      >
        Give this card
      </button>
    </fieldset>
  );
}

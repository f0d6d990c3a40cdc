import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { useSiteKey } from "../../api/site";
import { hasAll, wordsOf } from "../../parts/filter";
import { SearchBox } from "../../parts/SearchBox";
import { Estimating } from "./Estimating";
import type { Recorder, Sheet, Trial, Whole } from "./Recording";
import { dailyWords, rate } from "./words";

type Channel = Schemas["ChannelRow"];
type Spot = { recorder: string; slot: number };
const AS_USUAL = "";
const same = (one: Spot) => (item: Record<string, unknown>) =>
  item.recorder === one.recorder && item.slot === one.slot;

/** How the site records with something else said of some channels; what is undefined is not said any more. */
export function said(whole: Whole, spots: Spot[], parts: Record<string, unknown>): Whole {
  const rows = [...(whole.channels ?? [])];
  for (const spot of spots) {
    const at = rows.findIndex(same(spot));
    const row: Record<string, unknown> = { ...(at < 0 ? spot : rows[at]), ...parts };
    for (const name of Object.keys(row)) if (row[name] === undefined) delete row[name];
    if (at < 0) rows.push(row);
    else rows[at] = row;
  }
  return { ...whole, channels: rows.filter((row) => Object.keys(row).length > 2) };
}

/** Which channel follows which pattern, and what each writes: one by one, or many at once. */
export function Channels({ shown, whole, trial }: { shown: Sheet; whole: Whole; trial: Trial }) {
  const [only, setOnly] = useState("");
  const [chosen, choose] = useState<Set<string>>(new Set());
  const words = wordsOf(only);
  const recorders = shown.recorders
    .map((recorder) => ({
      ...recorder,
      channels: recorder.channels.filter((item) =>
        hasAll(words, `${item.name} ${item.place ?? ""} ${item.device} ${recorder.name}`),
      ),
    }))
    .filter((recorder) => recorder.channels.length > 0);
  const spots = shown.recorders
    .flatMap((recorder) => recorder.channels.map((item) => ({ recorder: recorder.key, slot: item.slot })))
    .filter((spot) => chosen.has(name(spot)));
  const listed = recorders.flatMap((recorder) =>
    recorder.channels.map((item) => name({ recorder: recorder.key, slot: item.slot })),
  );
  const all = listed.length > 0 && listed.every((item) => chosen.has(item));
  const apply = (parts: Record<string, unknown>) => trial.change({ recording: said(whole, spots, parts) });
  const usual = (whole.patterns ?? []).find((item) => item.key === whole.usual);
  const patterns = whole.patterns ?? [];
  return (
    <section aria-label="Channels">
      <div className="flex min-h-16 flex-wrap items-end gap-3">
        <SearchBox label="Show only" value={only} search={setOnly} />
        <label className="flex min-h-11 items-center gap-2 text-small">
          <input
            type="checkbox"
            checked={all}
            onChange={() => {
              const next = new Set(chosen);
              for (const item of listed) all ? next.delete(item) : next.add(item);
              choose(next);
            }}
          />
          all {listed.length} shown
        </label>
        {spots.length > 0 && (
          <fieldset className="flex flex-wrap items-end gap-3">
            <legend className="sr-only">For the chosen channels</legend>
            <span className="flex min-h-11 items-center font-semibold">{spots.length} chosen:</span>
            <label className="grid gap-0.5 text-cell">
              follow
              <select
                className="box"
                value="-"
                onChange={(event) =>
                  apply({ pattern: event.target.value === AS_USUAL ? undefined : event.target.value })
                }
              >
                <option value="-" disabled>
                  a pattern
                </option>
                <option value={AS_USUAL}>as usual: {usual ? (usual.name ?? usual.key) : "all day"}</option>
                {patterns.map((item) => (
                  <option key={item.key} value={item.key}>
                    {item.name ?? item.key}
                  </option>
                ))}
              </select>
            </label>
            <label className="grid gap-0.5 text-cell">
              sound
              <select
                className="box"
                value="-"
                onChange={(event) =>
                  apply({ audio: event.target.value === AS_USUAL ? undefined : event.target.value === "on" })
                }
              >
                <option value="-" disabled>
                  on or off
                </option>
                <option value={AS_USUAL}>as usual</option>
                <option value="on">on</option>
                <option value="off">off</option>
              </select>
            </label>
            <FigureBox
              label="Mbit/s, set or measured"
              empty="model’s"
              most={100_000}
              apply={(mbps) => apply({ kbps: mbps === undefined ? undefined : mbps * 1000 })}
            />
            <FigureBox
              label="motion, % of the time"
              empty="usual"
              most={100}
              apply={(share) =>
                apply({ motion_share: share === undefined ? undefined : Math.round(share * 100) / 10_000 })
              }
            />
          </fieldset>
        )}
      </div>
      {recorders.map((recorder) => (
        <OneRecorder
          key={recorder.key}
          recorder={recorder}
          whole={whole}
          chosen={chosen}
          choose={choose}
          set={(spot, parts) => trial.change({ recording: said(whole, [spot], parts) })}
        />
      ))}
      {recorders.length === 0 && <p className="py-4 text-ink-2">No channel holds “{only}”.</p>}
    </section>
  );
}

function name(spot: Spot): string {
  return `${spot.recorder} ${spot.slot}`;
}

/** A figure for the chosen channels, and the press that sets it; empty takes it back. */
function FigureBox({
  label,
  empty,
  most,
  apply,
}: {
  label: string;
  empty: string;
  most: number;
  apply: (figure: number | undefined) => void;
}) {
  const [typed, setTyped] = useState("");
  const figure = Number(typed.replace(",", "."));
  const none = typed.trim() === "";
  return (
    <span className="flex items-end gap-2">
      <label className="grid gap-0.5 text-cell">
        {label}
        <input
          className="box w-24 font-mono"
          inputMode="decimal"
          placeholder={empty}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
      </label>
      <button
        type="button"
        className="btn"
        disabled={!none && !(figure >= 0 && figure <= most)}
        onClick={() => apply(none ? undefined : figure)}
      >
        Set
      </button>
    </span>
  );
}

function OneRecorder({
  recorder,
  whole,
  chosen,
  choose,
  set,
}: {
  recorder: Recorder;
  whole: Whole;
  chosen: Set<string>;
  choose: (chosen: Set<string>) => void;
  set: (spot: Spot, parts: Record<string, unknown>) => void;
}) {
  const site = useSiteKey();
  const [estimating, setEstimating] = useState<number | null>(null);
  const mine = recorder.channels.map((item) => name({ recorder: recorder.key, slot: item.slot }));
  const places = [...new Set(recorder.channels.map((item) => item.place ?? ""))].filter(Boolean);
  const toggle = (names: string[]) => {
    const next = new Set(chosen);
    const on = names.every((item) => next.has(item));
    for (const item of names) on ? next.delete(item) : next.add(item);
    choose(next);
  };
  const inPlace = (place: string) =>
    recorder.channels
      .filter((item) => item.place === place)
      .map((item) => name({ recorder: recorder.key, slot: item.slot }));
  const patternOf = (item: Channel) =>
    item.pattern === null
      ? "All day"
      : ((whole.patterns ?? []).find((one) => one.key === item.pattern)?.name ?? item.pattern);
  return (
    <section className="mt-3" aria-label={recorder.name}>
      <div className="flex flex-wrap items-center gap-x-4 border-b-2 border-ink">
        <h2 className="py-2 font-semibold">{recorder.name}</h2>
        <span className="text-small text-ink-2">
          {recorder.channels.length}
          {recorder.seats ? ` of ${recorder.seats}` : ""} channels
        </span>
        <Link to={`/sites/${site}/devices/${recorder.key}`} className="flex min-h-11 items-center text-small">
          What is typed into it
        </Link>
        <span className="ml-auto flex flex-wrap gap-x-3 text-small">
          <button
            type="button"
            className="min-h-11 underline underline-offset-4"
            onClick={() => toggle(mine)}
          >
            Choose all of it
          </button>
          {places.length > 1 &&
            places.map((place) => (
              <button
                key={place}
                type="button"
                className="min-h-11 underline underline-offset-4"
                onClick={() => toggle(inPlace(place))}
              >
                {place}
              </button>
            ))}
        </span>
      </div>
      <ul>
        {recorder.channels.map((item) => (
          <li
            key={item.slot}
            className="border-b border-hair [contain-intrinsic-size:auto_45px] [content-visibility:auto]"
          >
            <div className="grid min-h-11 grid-cols-[28px_32px_minmax(0,1fr)_auto] items-center gap-x-2 md:grid-cols-[28px_40px_minmax(0,1fr)_180px_110px_90px]">
              <input
                type="checkbox"
                className="size-6 max-md:row-span-2"
                aria-label={`Choose channel ${item.slot} of ${recorder.name}`}
                checked={chosen.has(name({ recorder: recorder.key, slot: item.slot }))}
                onChange={() => toggle([name({ recorder: recorder.key, slot: item.slot })])}
              />
              <b className="text-right font-mono">{item.slot}</b>
              <span className="min-w-0 truncate" title={item.name}>
                {item.name} <span className="text-small text-ink-2">{item.place}</span>
              </span>
              <span className="truncate text-small max-md:col-start-3" title={patternOf(item)}>
                {patternOf(item)}
                {item.own_pattern && <span className="text-ink-2"> (its own)</span>}
                {item.audio && ", sound"}
              </span>
              <span className="text-right font-mono text-small max-md:hidden">
                {item.kbps === null ? (
                  <button
                    type="button"
                    className="min-h-11 font-sans underline underline-offset-4"
                    onClick={() => setEstimating(estimating === item.slot ? null : item.slot)}
                  >
                    not known
                  </button>
                ) : (
                  <>
                    {rate(item.kbps)}
                    {item.own_kbps !== null && (
                      <span className="block font-sans text-cell text-ink-2">set</span>
                    )}
                  </>
                )}
              </span>
              <span className="text-right font-mono text-small max-md:row-start-1 max-md:col-start-4">
                {item.bytes_per_day === null ? "–" : dailyWords(item.bytes_per_day)}
              </span>
            </div>
            {estimating === item.slot && (
              <Estimating
                name={item.name}
                take={(kbps) => {
                  set({ recorder: recorder.key, slot: item.slot }, { kbps });
                  setEstimating(null);
                }}
              />
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

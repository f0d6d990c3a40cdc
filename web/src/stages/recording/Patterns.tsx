import { useState } from "react";
import { useKeys } from "../../parts/keys";
import { Mark } from "../../parts/Mark";
import { DayEditor } from "./DayEditor";
import { freeKey, type Go, mended, type Pattern, type Sheet, type Trial, type Whole } from "./Recording";
import { Swatches } from "./Swatch";
import { WeekView } from "./WeekView";
import { daysOf, type Period, type Week, withDay } from "./week";
import { dailyWords } from "./words";

/** The patterns of the site: one is drawn as seven days and the holidays, and edited there. */
export function Patterns({
  shown,
  whole,
  trial,
  search,
  go,
}: {
  shown: Sheet;
  whole: Whole;
  trial: Trial;
  search: URLSearchParams;
  go: Go;
}) {
  const patterns = whole.patterns ?? [];
  const broken = shown.patterns.find((item) => item.mends.length > 0)?.key;
  const busiest = [...shown.patterns].sort((one, two) => two.channels - one.channels)[0]?.key;
  const chosen =
    patterns.find((item) => item.key === search.get("pattern")) ??
    patterns.find((item) => item.key === (broken ?? busiest)) ??
    patterns[0];
  const channels = new Map(shown.patterns.map((item) => [item.key, item.channels]));
  const always = shown.recorders
    .flatMap((item) => item.channels)
    .filter((item) => item.pattern === null).length;
  function add(pattern: Pattern) {
    const first = patterns.length === 0 && whole.usual == null;
    trial.change({
      recording: { ...whole, patterns: [...patterns, pattern], ...(first ? { usual: pattern.key } : {}) },
    });
    go({ pattern: pattern.key });
  }
  return (
    <section aria-label="Patterns of the week">
      <div className="flex flex-wrap items-center gap-x-1 border-b border-hair">
        {patterns.map((item) => (
          <button
            key={item.key}
            type="button"
            aria-pressed={item.key === chosen?.key}
            className={`flex min-h-11 items-baseline gap-2 px-3 py-2 ${item.key === chosen?.key ? "border-b-2 border-ink font-bold" : "font-medium"}`}
            onClick={() => go({ pattern: item.key })}
          >
            <span className="max-w-56 truncate">{item.name ?? item.key}</span>
            <span className="text-small font-normal text-ink-2">{of(channels.get(item.key) ?? 0)}</span>
          </button>
        ))}
        {always > 0 && (
          <span className="flex min-h-11 items-baseline gap-2 px-3 py-2 text-ink-2">
            All day <span className="text-small">{of(always)}</span>
          </span>
        )}
        <NewPattern shown={shown} whole={whole} add={add} first={patterns.length === 0} />
      </div>
      {chosen && (
        <OnePattern key={chosen.key} pattern={chosen} shown={shown} whole={whole} trial={trial} go={go} />
      )}
    </section>
  );
}

function of(number: number): string {
  return `${number} ${number === 1 ? "channel" : "channels"}`;
}

function NewPattern({
  shown,
  whole,
  add,
  first,
}: {
  shown: Sheet;
  whole: Whole;
  add: (pattern: Pattern) => void;
  first: boolean;
}) {
  return (
    <details className="relative ml-auto" open={first}>
      <summary className="flex min-h-11 cursor-pointer items-center px-2 text-small underline underline-offset-4">
        New pattern
      </summary>
      <ul className={`slip z-10 p-3 ${first ? "" : "absolute right-0 w-80"}`}>
        {shown.ready.map((item) => (
          <li key={item.key}>
            <button
              type="button"
              className="min-h-14 w-full py-1 text-left"
              onClick={(event) => {
                event.currentTarget.closest("details")?.removeAttribute("open");
                add({ key: freeKey(whole, item.key), name: item.name, week: item.week as Week });
              }}
            >
              <b className="block font-semibold underline underline-offset-4">{item.name}</b>
              <span className="block text-small text-ink-2">{item.why}</span>
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}

/** Which period of which day is being edited. */
export type Chosen = { day: string; index: number } | null;

function OnePattern({
  pattern,
  shown,
  whole,
  trial,
  go,
}: {
  pattern: Pattern;
  shown: Sheet;
  whole: Whole;
  trial: Trial;
  go: Go;
}) {
  const [chosen, choose] = useState<Chosen>(null);
  const row = shown.patterns.find((item) => item.key === pattern.key);
  const days = daysOf(pattern.week);
  const motion = Number(whole.motion_share ?? shown.whole.motion_share);
  const alarm = Number(whole.alarm_share ?? shown.whole.alarm_share);
  function setPattern(fresh: Partial<Pattern>) {
    const patterns = (whole.patterns ?? []).map((item) =>
      item.key === pattern.key ? { ...item, ...fresh } : item,
    );
    trial.change({ recording: { ...whole, patterns } });
  }
  const setDays = (said: Record<string, Period[] | string>) =>
    setPattern({
      week: Object.entries(said).reduce((week, [day, item]) => withDay(week, day, item), pattern.week),
    });
  const mends = row?.mends ?? [];
  const letter = (at: number) => String.fromCharCode(65 + at);
  const mend = (at: number) => {
    const item = mends[at];
    if (item)
      trial.change({ recording: mended({ ...shown, recording: whole }, pattern.key, item.week as Week) });
  };
  useKeys(Object.fromEntries(mends.slice(0, 6).map((_, at) => [letter(at).toLowerCase(), () => mend(at)])));
  const most = Math.min(
    ...shown.recorders
      .filter((item) => item.channels.some((one) => one.pattern === pattern.key))
      .map((item) => item.periods_a_day ?? Number.POSITIVE_INFINITY),
  );
  const empty = days.filter((item) => item.known && item.periods.length === 0);
  return (
    <>
      <Swatches motion={motion} alarm={alarm} />
      <WeekView
        days={days}
        mends={mends}
        chosen={chosen}
        choose={choose}
        setDay={(day, said) => setDays({ [day]: said })}
        letter={letter}
      />
      {chosen && (
        <DayEditor
          key={JSON.stringify([chosen, days.find((item) => item.day === chosen.day)?.periods[chosen.index]])}
          day={chosen.day}
          index={chosen.index}
          days={days}
          choose={choose}
          setDays={setDays}
        />
      )}
      <ul className="mt-3 border-t border-hair" aria-label="What can be put right">
        {mends.map((item, at) => (
          <li
            key={`${item.code} ${item.said}`}
            className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-hair py-2"
          >
            <span className="flex w-24 shrink-0 items-center gap-2 font-semibold text-brass">
              <Mark name="off" /> {item.code === "recording.gap" ? "gap" : "wrong"} {letter(at)}
            </span>
            <span className="min-w-0 flex-1 basis-64">
              {item.said}.{" "}
              {item.adds_bytes_per_day ? (
                <span className="text-ink-2">
                  {item.adds_bytes_per_day > 0 ? "Mending adds" : "Mending saves"}{" "}
                  {dailyWords(Math.abs(item.adds_bytes_per_day))} a day.
                </span>
              ) : null}
            </span>
            <button type="button" className="btn" onClick={() => mend(at)}>
              {at < 6 && <kbd className="key max-md:hidden">{letter(at)}</kbd>}
              {item.press}
            </button>
          </li>
        ))}
        <li className="flex flex-wrap gap-x-4 border-b border-hair py-2">
          <span className="w-24 shrink-0 font-semibold">Periods</span>
          <span className="min-w-0 flex-1 basis-64">
            At most {row?.longest ?? 0} a day
            {Number.isFinite(most) ? `; the recorder takes ${most}` : ""}.{" "}
            {mends.length === 0 && empty.length === 0 && "Every day is covered from midnight to midnight."}
            {empty.length > 0 && (
              <>
                Nothing is recorded on{" "}
                {empty.map((item) => row?.days.find((one) => one.day === item.day)?.word).join(", ")}.
              </>
            )}
          </span>
        </li>
      </ul>
      <div className="flex flex-wrap items-end gap-3 pt-3">
        <label className="grid gap-1 text-small font-semibold">
          Name of the pattern
          <input
            className="box w-56 font-normal"
            value={pattern.name ?? pattern.key}
            maxLength={200}
            onChange={(event) => event.target.value && setPattern({ name: event.target.value })}
          />
        </label>
        <button
          type="button"
          className="btn"
          aria-pressed={whole.usual === pattern.key}
          onClick={() =>
            trial.change({ recording: { ...whole, usual: whole.usual === pattern.key ? null : pattern.key } })
          }
        >
          <Mark name={whole.usual === pattern.key ? "set" : "planned"} />
          Usual for every channel
        </button>
        <button
          type="button"
          className="btn"
          onClick={() => {
            const name = `${pattern.name ?? pattern.key} (copy)`;
            const fresh = { ...pattern, key: freeKey(whole, name), name };
            trial.change({ recording: { ...whole, patterns: [...(whole.patterns ?? []), fresh] } });
            go({ pattern: fresh.key });
          }}
        >
          Copy it
        </button>
        <button
          type="button"
          className="btn"
          disabled={(row?.channels ?? 0) > 0}
          title={(row?.channels ?? 0) > 0 ? "Channels still follow it" : undefined}
          onClick={() => {
            const patterns = (whole.patterns ?? []).filter((item) => item.key !== pattern.key);
            trial.change({
              recording: {
                ...whole,
                patterns,
                usual: whole.usual === pattern.key ? null : (whole.usual ?? null),
              },
            });
            go({ pattern: null });
          }}
        >
          Remove it
        </button>
      </div>
    </>
  );
}

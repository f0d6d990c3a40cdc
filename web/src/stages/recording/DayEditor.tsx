import { useState } from "react";
import type { Chosen } from "./Patterns";
import {
  clock,
  DAY_MIN,
  DAY_WORDS,
  DAYS,
  type Day,
  MODES,
  type Mode,
  minutesOf,
  type Period,
  split,
  withPeriod,
} from "./week";

/** One period: its mode and its times typed, and what can be done with it. */
export function DayEditor({
  day,
  index,
  days,
  choose,
  setDays,
}: {
  day: string;
  index: number;
  days: Day[];
  choose: (chosen: Chosen) => void;
  setDays: (said: Record<string, Period[]>) => void;
}) {
  const setDay = (name: string, said: Period[]) => setDays({ [name]: said });
  const periods = days.find((item) => item.day === day)?.periods ?? [];
  const item = periods[index];
  const [from, setFrom] = useState(item ? clock(item.from_min) : "");
  const [to, setTo] = useState(item ? clock(item.to_min) : "");
  const [copying, setCopying] = useState<string[]>([]);
  const [wrong, setWrong] = useState("");
  if (!item) return null;
  const word = DAY_WORDS[day] ?? day;

  function take() {
    const [begin, end] = [minutesOf(from), minutesOf(to)];
    const strange = begin === null ? from : end === null ? to : null;
    if (strange !== null) {
      setWrong(`“${strange}” is no time of a day; 00:00 to 24:00 is expected, like 07:30.`);
      return;
    }
    if (begin === null || end === null || !item) return;
    if (begin === end) {
      setWrong(`A period from ${clock(begin)} to ${clock(end)} is empty; let it end later.`);
      return;
    }
    setWrong("");
    const rest = periods.filter((_, at) => at !== index);
    // one that goes past midnight stays as it is typed: what it means is said below, with the press that splits it
    setDay(
      day,
      end < begin
        ? [...rest, { ...item, from_min: begin, to_min: end }]
        : withPeriod(rest, { ...item, from_min: begin, to_min: end }),
    );
    choose(null);
  }
  const others = DAYS.filter((name) => name !== day);
  return (
    <section
      ref={(slip) => slip?.scrollIntoView({ block: "nearest" })}
      className="mt-3 border border-hair border-t-[3px] border-t-ink bg-sheet p-3"
      aria-label={`Period of ${word}`}
    >
      <div className="flex flex-wrap items-end gap-3">
        <label className="grid gap-1 text-small font-semibold">
          {word}, from
          <input
            className="box w-24 font-mono font-normal"
            value={from}
            onChange={(event) => setFrom(event.target.value)}
            onKeyDown={(event) => event.key === "Enter" && take()}
          />
        </label>
        <label className="grid gap-1 text-small font-semibold">
          to
          <input
            className="box w-24 font-mono font-normal"
            value={to}
            onChange={(event) => setTo(event.target.value)}
            onKeyDown={(event) => event.key === "Enter" && take()}
          />
        </label>
        <button
          type="button"
          className="btn"
          onClick={take}
          disabled={from === clock(item.from_min) && to === clock(item.to_min)}
        >
          Set the times
        </button>
        <label className="grid gap-1 text-small font-semibold">
          Recorded
          <select
            className="box font-normal"
            value={item.mode}
            onChange={(event) => {
              const mode = event.target.value as Mode;
              setDay(
                day,
                periods.map((one, at) => (at === index ? { ...one, mode } : one)),
              );
            }}
          >
            {Object.entries(MODES).map(([mode, name]) => (
              <option key={mode} value={mode}>
                {name}
              </option>
            ))}
          </select>
        </label>
        <button type="button" className="btn" onClick={() => setDay(day, split(periods, index))}>
          Split it
        </button>
        <button
          type="button"
          className="btn"
          onClick={() => {
            setDay(
              day,
              periods.filter((_, at) => at !== index),
            );
            choose(null);
          }}
        >
          Take it out
        </button>
        <button
          type="button"
          className="btn"
          onClick={() => {
            setDay(day, [{ from_min: 0, to_min: DAY_MIN, mode: item.mode }]);
            choose(null);
          }}
        >
          All of this day
        </button>
        <button
          type="button"
          className="ml-auto min-h-11 px-2 underline underline-offset-4"
          onClick={() => choose(null)}
        >
          Close
        </button>
      </div>
      {wrong && (
        <p role="alert" className="pt-2 font-semibold text-red">
          {wrong}
        </p>
      )}
      <fieldset className="flex flex-wrap items-center gap-x-3 gap-y-1 pt-2">
        <legend className="sr-only">Copy {word} to other days</legend>
        <span className="text-small font-semibold">Copy {word} to</span>
        {others.map((name) => (
          <label key={name} className="flex min-h-11 items-center gap-1.5 text-small">
            <input
              type="checkbox"
              checked={copying.includes(name)}
              onChange={(event) =>
                setCopying(event.target.checked ? [...copying, name] : copying.filter((one) => one !== name))
              }
            />
            {DAY_WORDS[name]}
          </label>
        ))}
        <button
          type="button"
          className="btn"
          disabled={copying.length === 0}
          onClick={() => {
            setDays(Object.fromEntries(copying.map((name) => [name, periods])));
            setCopying([]);
          }}
        >
          Copy
        </button>
      </fieldset>
    </section>
  );
}

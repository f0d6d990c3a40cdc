import { type PointerEvent, useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import type { Chosen } from "./Patterns";
import { Fill } from "./Swatch";
import {
  clock,
  DAY_MIN,
  DAY_WORDS,
  DAYS,
  type Day,
  type Edge,
  edgesOf,
  MODES,
  moveEdge,
  type Period,
  room,
  withPeriod,
} from "./week";

type Mend = Schemas["MendRow"];
const HOURS = [0, 3, 6, 9, 12, 15, 18, 21, 24];
const part = (minutes: number) => `${(minutes / DAY_MIN) * 100}%`;

/**
 * Seven days and the holidays as lanes from midnight to midnight. An edge is moved with the arrow keys by 15 minutes, with
 * Shift by one, or by dragging; a press on a period opens it below; drawing over a gap fills it.
 */
export function WeekView({
  days,
  mends,
  chosen,
  choose,
  setDay,
  letter,
}: {
  days: Day[];
  mends: Mend[];
  chosen: Chosen;
  choose: (chosen: Chosen) => void;
  setDay: (day: string, said: Period[] | string) => void;
  letter: (at: number) => string;
}) {
  return (
    <div
      className="grid grid-cols-[minmax(0,1fr)] md:grid-cols-[176px_minmax(0,1fr)]"
      role="group"
      aria-label="The week"
    >
      <span className="max-md:hidden" />
      <div className="relative h-5 font-mono text-cell text-ink-2" aria-hidden="true">
        {HOURS.map((hour) => (
          <span
            key={hour}
            className={`absolute ${hour === 0 ? "" : hour === 24 ? "-translate-x-full" : "-translate-x-1/2"} ${hour % 6 ? "max-md:hidden" : ""}`}
            style={{ left: part(hour * 60) }}
          >
            {clock(hour * 60)}
          </span>
        ))}
      </div>
      {days.map((day) => (
        <Lane
          key={day.day}
          day={day}
          marks={mends
            .map((mend, at) => ({ mend, name: letter(at) }))
            .filter(({ mend }) => mend.days.includes(day.day))}
          chosen={chosen?.day === day.day ? chosen.index : null}
          choose={choose}
          setDay={setDay}
        />
      ))}
    </div>
  );
}

function Lane({
  day,
  marks,
  chosen,
  choose,
  setDay,
}: {
  day: Day;
  marks: { mend: Mend; name: string }[];
  chosen: number | null;
  choose: (chosen: Chosen) => void;
  setDay: (day: string, said: Period[] | string) => void;
}) {
  const [moving, setMoving] = useState<Period[] | null>(null);
  const lane = useRef<HTMLDivElement>(null);
  const own = day.as === null;
  const periods = moving ?? day.periods;
  const word = DAY_WORDS[day.day] ?? day.day;
  const high = own ? "h-9" : "h-6";

  /** The moment under the pointer, at a quarter of an hour. */
  function at(event: PointerEvent): number {
    const box = lane.current?.getBoundingClientRect();
    if (!box) return 0;
    const share = Math.min(Math.max((event.clientX - box.left) / box.width, 0), 1);
    return Math.round((share * DAY_MIN) / 15) * 15;
  }
  /** Follow the pointer until it is let go, then keep where it came to. */
  function drag(event: PointerEvent, then: (to: number) => Period[]) {
    if (event.button !== 0) return;
    event.preventDefault();
    (event.target as HTMLElement).focus?.();
    let last: Period[] | null = null;
    const move = (moved: globalThis.PointerEvent) => {
      last = then(at(moved as unknown as PointerEvent));
      setMoving(last);
    };
    const end = (way: "keep" | "drop") => () => {
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", kept);
      window.removeEventListener("pointercancel", dropped);
      setMoving(null);
      if (way === "keep" && last) setDay(day.day, last);
    };
    const [kept, dropped] = [end("keep"), end("drop")];
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", kept);
    window.addEventListener("pointercancel", dropped);
  }
  function fresh(event: PointerEvent) {
    if (!own || event.target !== lane.current) return;
    const from = at(event);
    const near = day.periods.find((item) => item.to_min <= from) ?? day.periods[0];
    drag(event, (to) =>
      from === to
        ? day.periods
        : withPeriod(day.periods, {
            from_min: Math.min(from, to),
            to_min: Math.max(from, to),
            mode: near?.mode ?? "continuous",
          }),
    );
  }
  return (
    <>
      <div className="flex items-end justify-between gap-2 pt-1 md:pr-3 md:pb-0.5">
        <b className="text-list font-semibold">{word}</b>
        {(day.day !== "mon" || !own) && <DayAs day={day} setDay={setDay} word={word} />}
      </div>
      <div className={`relative ${own ? "pt-6" : "pt-2"}`}>
        <div
          ref={lane}
          className={`relative ${high} touch-none border-b border-hair bg-[linear-gradient(90deg,var(--hair)_1px,transparent_1px)] bg-[length:12.5%_100%]`}
          onPointerDown={fresh}
        >
          {periods.map((item, index) => (
            <Stretch
              // biome-ignore lint/suspicious/noArrayIndexKey: a period has no other name than its place in the day
              key={index}
              item={item}
              own={own}
              name={`${word}, ${clock(item.from_min)} to ${clock(item.to_min)}, ${MODES[item.mode]}`}
              chosen={chosen === index}
              choose={() => choose(chosen === index ? null : { day: day.day, index })}
            />
          ))}
          {marks
            .filter(({ mend }) => mend.to_min > mend.from_min)
            .map(({ mend, name }) => (
              <span
                key={name}
                className="pointer-events-none absolute -inset-y-0.5 grid min-w-4 place-items-center border-[1.5px] border-dashed border-brass-fill bg-brass-wash text-small font-bold text-brass"
                style={{ left: part(mend.from_min), width: part(mend.to_min - mend.from_min) }}
              >
                {name}
              </span>
            ))}
          {own &&
            edgesOf(periods).map((edge) => (
              <EdgeGrip
                key={`${edge.ends}-${edge.begins}`}
                edge={edge}
                periods={periods}
                word={word}
                move={(to) => setDay(day.day, moveEdge(day.periods, edge, to))}
                grab={(event) => drag(event, (to) => moveEdge(day.periods, edge, to))}
              />
            ))}
        </div>
      </div>
    </>
  );
}

function Stretch({
  item,
  own,
  name,
  chosen,
  choose,
}: {
  item: Period;
  own: boolean;
  name: string;
  chosen: boolean;
  choose: () => void;
}) {
  const past = item.to_min < item.from_min;
  const width = past ? DAY_MIN - item.from_min : item.to_min - item.from_min;
  const place = { left: part(item.from_min), width: part(width) };
  if (!own)
    return (
      <span className="absolute inset-y-0" style={place}>
        <Fill mode={item.mode} />
      </span>
    );
  return (
    <>
      <span
        className="pointer-events-none absolute -top-5 overflow-hidden pl-0.5 text-small whitespace-nowrap"
        style={place}
        aria-hidden="true"
      >
        <span className="font-mono text-cell">{clock(item.from_min)}</span>{" "}
        <b className="font-semibold">{MODES[item.mode]}</b>
      </span>
      <button
        type="button"
        className={`absolute inset-y-0 ${chosen ? "z-10 outline-2 outline-offset-2 outline-ink" : ""}`}
        style={place}
        aria-label={name}
        aria-pressed={chosen}
        onClick={choose}
      >
        <Fill mode={item.mode} />
      </button>
    </>
  );
}

function EdgeGrip({
  edge,
  periods,
  word,
  move,
  grab,
}: {
  edge: Edge;
  periods: Period[];
  word: string;
  move: (to: number) => void;
  grab: (event: PointerEvent) => void;
}) {
  const [least, most] = room(periods, edge);
  const ends = edge.ends === null ? undefined : periods[edge.ends];
  const begins = edge.begins === null ? undefined : periods[edge.begins];
  const said = [ends && `${MODES[ends.mode]} ends`, begins && `${MODES[begins.mode]} begins`].filter(Boolean);
  return (
    <span
      role="slider"
      tabIndex={0}
      aria-label={`${word}, ${said.join(", ")}`}
      aria-valuemin={least}
      aria-valuemax={most}
      aria-valuenow={edge.at}
      aria-valuetext={clock(edge.at)}
      className="absolute -inset-y-1 z-20 w-3 -translate-x-1/2 cursor-ew-resize hover:bg-ink/20 focus-visible:bg-ink/20"
      style={{ left: part(edge.at) }}
      onPointerDown={(event) => {
        event.stopPropagation();
        grab(event);
      }}
      onKeyDown={(event) => {
        const step = event.shiftKey ? 1 : 15;
        const to: Record<string, number> = {
          ArrowLeft: edge.at - step,
          ArrowDown: edge.at - step,
          ArrowRight: edge.at + step,
          ArrowUp: edge.at + step,
          PageDown: edge.at - 60,
          PageUp: edge.at + 60,
          Home: least,
          End: most,
        };
        const wanted = to[event.key];
        if (wanted === undefined) return;
        event.preventDefault();
        move(wanted);
      }}
    />
  );
}

/** What a day is as; choosing "its own" copies what it was as. */
function DayAs({
  day,
  setDay,
  word,
}: {
  day: Day;
  setDay: (day: string, said: Period[] | string) => void;
  word: string;
}) {
  return (
    <select
      className="-mr-1 max-w-28 cursor-pointer border-0 bg-transparent text-cell text-ink-2 max-md:min-h-11 md:text-right"
      aria-label={`${word} is recorded`}
      value={day.as ?? ""}
      onChange={(event) => setDay(day.day, event.target.value || day.periods)}
    >
      <option value="">on its own</option>
      {DAYS.filter((name) => name !== day.day && !(day.day === "mon")).map((name) => (
        <option key={name} value={name}>
          as {DAY_WORDS[name]}
        </option>
      ))}
    </select>
  );
}

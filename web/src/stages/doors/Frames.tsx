import { useState } from "react";
import { Trouble } from "../../parts/Feedback";
import { slug } from "../../parts/slug";
import type { AccessSheet } from "./Access";
import { DayBands } from "./DayBands";
import { Formats } from "./Formats";
import { useItem } from "./useItem";

type Week = Record<string, string | [string, string][]>;
type Part = Record<string, unknown> & { key?: string; week?: Week };
const DAYS: [string, string][] = [
  ["mon", "Monday"],
  ["tue", "Tuesday"],
  ["wed", "Wednesday"],
  ["thu", "Thursday"],
  ["fri", "Friday"],
  ["sat", "Saturday"],
  ["sun", "Sunday"],
  ["holiday", "Holidays"],
];

/** The frames in which rules hold, and the holidays. */
export function FrameList({ data }: { data: AccessSheet }) {
  const [open, setOpen] = useState<string | null>(null);
  return (
    <section aria-label="Frames and holidays" className="mt-6">
      <h2 className="border-b-2 border-ink font-semibold">Frames and holidays</h2>
      <div className="grid gap-x-8 md:grid-cols-2">
        {data.frames.map((frame) => (
          <div key={frame.key} className="py-2">
            <DayBands name={frame.name} days={frame.days} />
            <button
              type="button"
              className="min-h-11 text-small underline underline-offset-4"
              onClick={() => setOpen(open === frame.key ? null : frame.key)}
            >
              Change {frame.name}
            </button>
          </div>
        ))}
      </div>
      {open !== null ? (
        <FrameForm
          key={open}
          part={
            open === ""
              ? null
              : ((data.frames.find((item) => item.key === open)?.part ?? null) as Part | null)
          }
          taken={data.frames.map((item) => item.key)}
          close={() => setOpen(null)}
        />
      ) : (
        <button type="button" className="min-h-11 underline underline-offset-4" onClick={() => setOpen("")}>
          New frame
        </button>
      )}
      <Holidays data={data} />
      <Formats data={data} />
    </section>
  );
}

function spoken(said: string | [string, string][] | undefined): string {
  if (said === undefined) return "";
  return typeof said === "string"
    ? `as ${said}`
    : said.map(([from, to]) => `${from}–${to}`).join(", ") || "none";
}

/** "07:30–12:00, 13:00–18:00", "as mon", "none", or nothing for a day as its usual other. */
function readDay(text: string): string | [string, string][] | null | undefined {
  const typed = text.trim().toLowerCase();
  if (typed === "") return undefined;
  if (typed === "none") return [];
  const other = /^as\s+(\w+)$/.exec(typed);
  if (other) return other[1] ?? null;
  const spans = typed
    .split(/[,;]/)
    .map((span) => /^\s*(\d{1,2}):(\d{2})\s*[–-]\s*(\d{1,2}):(\d{2})\s*$/.exec(span));
  if (spans.some((span) => span === null)) return null;
  const two = (digits = "") => digits.padStart(2, "0");
  return spans.map((span) => [`${two(span?.[1])}:${span?.[2]}`, `${two(span?.[3])}:${span?.[4]}`]);
}

function FrameForm({ part, taken, close }: { part: Part | null; taken: string[]; close: () => void }) {
  const [name, setName] = useState(String(part?.name ?? part?.key ?? ""));
  const [days, setDays] = useState<Record<string, string>>(() =>
    Object.fromEntries(DAYS.map(([day]) => [day, spoken(part?.week?.[day])])),
  );
  const change = useItem();
  const base = slug(name) || "frame";
  const key = part?.key ?? (taken.includes(base) ? `${base}-${taken.length + 1}` : base);
  const read = Object.fromEntries(DAYS.map(([day]) => [day, readDay(days[day] ?? "")]));
  const strange = DAYS.find(([day]) => read[day] === null);
  const store = (now: Record<string, unknown> | null) =>
    change.mutate({ kind: "frames", item: key, was: part, now }, { onSuccess: close });
  return (
    <form
      aria-label={part ? `Frame ${name}` : "New frame"}
      className="my-2 grid gap-2 border border-hair border-t-[3px] border-t-ink bg-sheet p-3"
      onSubmit={(event) => {
        event.preventDefault();
        const week = Object.fromEntries(Object.entries(read).filter(([, said]) => said !== undefined));
        store({ ...(part ?? {}), key, name: name.trim(), week });
      }}
    >
      <label className="grid max-w-72 gap-1 text-small">
        Name
        <input
          className="box"
          value={name}
          maxLength={200}
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      <div className="grid gap-2 sm:grid-cols-2 lg:grid-cols-4">
        {DAYS.map(([day, word]) => (
          <label key={day} className="grid gap-1 text-small">
            {word}
            <input
              className="box font-mono"
              value={days[day] ?? ""}
              placeholder={day === "mon" ? "07:30–18:00" : day === "holiday" ? "as sun" : "as mon"}
              onChange={(event) => setDays({ ...days, [day]: event.target.value })}
            />
          </label>
        ))}
      </div>
      <p className="text-small text-ink-2">
        Times like 07:30–12:00, 13:00–18:00; “as mon” for as on Monday; “none” for nobody. The end does not
        count: at 18:00 it is over.
      </p>
      {strange && (
        <p role="alert" className="text-small font-semibold text-red">
          {strange[1]}: “{days[strange[0]]}” is no time of a day.
        </p>
      )}
      <span className="flex flex-wrap gap-2">
        <button
          type="submit"
          className="btn btn-main"
          disabled={!name.trim() || strange !== undefined || read.mon === undefined || change.isPending}
        >
          {part ? "Save the frame" : "Add the frame"}
        </button>
        {part && (
          <button type="button" className="btn" onClick={() => store(null)} disabled={change.isPending}>
            Remove it
          </button>
        )}
        <button type="button" className="min-h-11 px-2 underline underline-offset-4" onClick={close}>
          Close
        </button>
      </span>
      {change.error && <Trouble error={change.error} />}
    </form>
  );
}

function Holidays({ data }: { data: AccessSheet }) {
  const [date, setDate] = useState("");
  const [name, setName] = useState("");
  const change = useItem();
  return (
    <div className="pt-2">
      <h3 className="font-semibold">Holidays</h3>
      <ul className="flex flex-wrap gap-x-6">
        {data.holidays.map((item) => (
          <li key={String(item.date)} className="flex items-center gap-2 text-small">
            <span className="font-mono">{String(item.date)}</span> {String(item.name ?? "")}
            <button
              type="button"
              className="min-h-11 underline underline-offset-4"
              aria-label={`Remove the holiday ${item.date}`}
              onClick={() =>
                change.mutate({ kind: "holidays", item: String(item.date), was: item, now: null })
              }
            >
              Remove
            </button>
          </li>
        ))}
      </ul>
      <form
        className="flex flex-wrap items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate(
            {
              kind: "holidays",
              item: date,
              was: null,
              now: { date, ...(name.trim() ? { name: name.trim() } : {}) },
            },
            { onSuccess: () => setDate("") },
          );
        }}
      >
        <label className="grid gap-1 text-small">
          Day
          <input type="date" className="box" value={date} onChange={(event) => setDate(event.target.value)} />
        </label>
        <label className="grid gap-1 text-small">
          Called
          <input
            className="box"
            value={name}
            maxLength={200}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <button type="submit" className="btn" disabled={!date || change.isPending}>
          Add the holiday
        </button>
      </form>
      {change.error && <Trouble error={change.error} />}
    </div>
  );
}

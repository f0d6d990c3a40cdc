import type { Schemas } from "../../api/client";
import { DeviceLink } from "../../parts/DeviceLink";
import { useTruncated } from "../../parts/useTruncated";

type Sheet = Schemas["ProofSheet"];

const RESULTS: Record<string, string> = {
  pass: "passed",
  fail: "failed",
  silent: "was silent",
  skipped: "was skipped",
};

/** What came out otherwise than the time before. */
export function Changes({ changes }: { changes: Sheet["changes"] }) {
  const [shown, more] = useTruncated(changes, 20);
  if (changes.length === 0) return null;
  return (
    <section aria-label="What changed since the measuring before" className="mt-6">
      <h2 className="border-b-2 border-ink pb-1 font-semibold">What changed since the measuring before</h2>
      <ul className="text-list">
        {shown.map((change) => (
          <li
            key={`${change.device} ${change.check}`}
            className="flex flex-wrap gap-x-4 border-b border-hair py-1"
          >
            <span className="w-56 truncate font-semibold">
              <DeviceLink device={change.device}>{change.name}</DeviceLink>
            </span>
            <span className="w-56">{change.title}</span>
            <span className="min-w-0 flex-1 basis-72">
              {RESULTS[change.before] ?? change.before}, now {RESULTS[change.now] ?? change.now}:{" "}
              {change.measured}
            </span>
          </li>
        ))}
      </ul>
      {more}
    </section>
  );
}

/** Exceptions whose last day is past: the check counts again, and somebody has to decide anew. */
export function RanOut({ rows }: { rows: Sheet["ran_out"] }) {
  const [shown, more] = useTruncated(rows, 20);
  if (rows.length === 0) return null;
  return (
    <section aria-label="Left open until a day that is past" className="mt-6">
      <h2 className="border-b-2 border-ink pb-1 font-semibold">Left open until a day that is past</h2>
      <ul className="text-list">
        {shown.map((row) => (
          <li key={`${row.device} ${row.check}`} className="flex flex-wrap gap-x-4 border-b border-hair py-1">
            <span className="w-56 truncate font-semibold">
              <DeviceLink device={row.device}>{row.name}</DeviceLink>
            </span>
            <span className="w-56">{row.title}</span>
            <span className="min-w-0 flex-1 basis-72">
              {row.reason}
              {row.by && `, ${row.by}`}, until {dayOf(row.until)}
            </span>
          </li>
        ))}
      </ul>
      {more}
    </section>
  );
}

export function dayOf(day: string): string {
  return new Date(`${day}T12:00:00`).toLocaleDateString("en-GB", { dateStyle: "long" });
}

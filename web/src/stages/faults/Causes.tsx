import type { Case } from "./useCase";

const SHOWN = 4;

/** A share on ten marks. */
function Tenths({ share }: { share: number }) {
  return (
    <svg viewBox="0 0 126 22" width="126" height="22" aria-hidden="true" className="shrink-0">
      <rect x="0" y="3" width={Math.max(2, 124 * share)} height="10" className="fill-ink" />
      <path
        d={`M0.5 15H124.5${Array.from({ length: 11 }, (_, at) => `M${at * 12.4 + 0.5} 15V19`).join("")}`}
        className="stroke-ink"
      />
    </svg>
  );
}

/** Why, most likely first. */
export function Causes({ data }: { data: Case }) {
  if (data.hides) return null;
  const shown = data.causes.slice(0, SHOWN);
  const rest = data.causes.slice(SHOWN);
  const strange = data.seen.filter((item) => item.strange).length;
  return (
    <section aria-labelledby="why">
      <h2 id="why" className="pb-1 text-small font-semibold text-ink-2">
        Why, most likely first
      </h2>
      <ol>
        {shown.map((cause, at) => (
          <CauseLine key={cause.says} cause={cause} number={at + 1} strange={strange} />
        ))}
      </ol>
      {rest.length > 0 && (
        <details className="border-t border-hair">
          <summary className="flex min-h-11 cursor-pointer items-center text-small font-semibold">
            Less likely
          </summary>
          <ol>
            {rest.map((cause, at) => (
              <CauseLine key={cause.says} cause={cause} number={at + 1 + SHOWN} strange={strange} />
            ))}
          </ol>
        </details>
      )}
      {!data.fits && (
        <p className="border-t border-hair py-2 font-semibold text-red">
          None of these fits what was seen. Write down what you see before anything is reset or swapped.
        </p>
      )}
    </section>
  );
}

function explained(what: string[], strange: number): string {
  if (what.length === 0) return "";
  if (what.length === strange) return strange > 1 ? "Explains all of it. " : "Explains it. ";
  return `Explains ${what.slice(0, 2).join("; ")}${what.length > 2 ? ` and ${what.length - 2} more` : ""}. `;
}

function CauseLine({
  cause,
  number,
  strange,
}: {
  cause: Case["causes"][number];
  number: number;
  strange: number;
}) {
  return (
    <li className="grid min-h-12 grid-cols-[1.75rem_minmax(0,1fr)_auto] items-center gap-x-3 border-t border-hair py-1.5 sm:grid-cols-[1.75rem_minmax(0,1fr)_126px_6.5rem]">
      <span className="font-mono font-semibold">{number}</span>
      <span className="min-w-0 leading-5">
        <b className="font-semibold">{cause.says}</b>
        <span className="block text-small text-ink-2">
          {explained(cause.explains, strange)}
          {cause.against.length > 0 && `Against it: ${cause.against.slice(0, 2).join("; ")}. `}
          {cause.alike.length > 0 && `Looks the same: ${cause.alike.slice(0, 2).join("; ")}.`}
        </span>
      </span>
      <span className="max-sm:hidden">
        <Tenths share={cause.likelihood} />
      </span>
      <b className="text-right text-list font-semibold">{cause.chances}</b>
    </li>
  );
}

/** What was looked at, by whom, and what it meant then. */
export function SeenList({ data, back, busy }: { data: Case; back: () => void; busy: boolean }) {
  return (
    <section aria-labelledby="seen" className="pb-4">
      <h2 id="seen" className="pb-1 text-small font-semibold text-ink-2">
        Already seen
      </h2>
      <ol className="max-h-72 overflow-auto" tabIndex={0} aria-label="What was seen">
        {data.seen.map((item, at) => (
          <li
            // biome-ignore lint/suspicious/noArrayIndexKey: the same check may be made twice
            key={at}
            className="grid min-h-7 grid-cols-[3.25rem_minmax(0,1fr)] items-baseline gap-x-3 border-t border-hair py-1 text-small"
          >
            <time dateTime={item.when} className="font-mono text-note">
              {new Date(item.when).toLocaleTimeString("en-GB", { timeStyle: "short" })}
            </time>
            <span className="min-w-0">
              {item.name}: {item.short.toLowerCase()}:{" "}
              <b className={`font-semibold ${item.strange ? "text-red" : ""}`}>{item.answer.toLowerCase()}</b>
              <span className="text-ink-2">
                {at < data.complaint ? " (the complaint)" : ""}, {item.by_server ? "measured" : item.by}
                {item.means && at >= data.complaint ? `. ${item.means}` : ""}
              </span>
            </span>
          </li>
        ))}
      </ol>
      {!data.drill && data.seen.length > data.complaint && data.state !== "closed" && (
        <button type="button" className="min-h-11 text-small underline" disabled={busy} onClick={back}>
          Take the last one back
        </button>
      )}
    </section>
  );
}

import { useState } from "react";
import { useSearchParams } from "react-router";
import { Problems } from "../../parts/Page";
import { BenchRules } from "./BenchRules";
import { spoken, teams } from "./lane";
import { Rehearsal } from "./Rehearsal";
import { RunLane } from "./RunLane";
import type { Search, Sheet } from "./useBench";

/** Before the run: how long it will take, what comes first, and for how many technicians. */
export function Start({ sheet, search, narrow }: { sheet: Sheet; search: Search; narrow: boolean }) {
  const [params, setParams] = useSearchParams();
  const [now, setNow] = useState(0);
  const clock = (seconds: number) => `${Math.round(seconds / 60)} min`;
  const first = sheet.steps.filter((step) => step.manual).slice(0, 6);
  function take(technicians: number) {
    const next = new URLSearchParams(params);
    next.set("technicians", String(technicians));
    setParams(next, { replace: true });
  }
  return (
    <>
      <div className="mt-2 border-b border-hair pb-2">
        <RunLane
          steps={sheet.steps.map((step) => ({ ...step, state: stateAt(step, now) }))}
          current={undefined}
          now={now}
          technicians={sheet.run.technicians}
          hand={1}
          clock={clock}
          narrow={narrow}
        />
      </div>
      <div className="flex flex-col gap-x-10 gap-y-4 pt-4 lg:flex-row">
        <section className="min-w-0 flex-1" aria-label="The run before it starts">
          <h2 className="text-title font-bold md:text-step">{spoken(sheet.total_s)} at the bench</h2>
          <p className="max-w-prose text-body">{sheet.run.said}</p>
          <p className="flex min-h-9 items-center gap-2 text-small text-ink-2" role="status">
            {search.state === "going" && (
              <>
                A shorter order is being looked for.
                <button type="button" className="btn text-small" onClick={search.stop}>
                  Stop looking
                </button>
              </>
            )}
            {search.state === "stopped" && (
              <>
                This is the first order found.
                <button type="button" className="btn text-small" onClick={search.again}>
                  Look for a shorter one
                </button>
              </>
            )}
          </p>
          <fieldset className="mt-4 flex flex-wrap items-center gap-2">
            <legend className="mb-1 font-semibold">How many of you work at it?</legend>
            {teams(sheet.run.technicians).map((technicians) => (
              <button
                key={technicians}
                type="button"
                aria-pressed={technicians === sheet.run.technicians}
                className={`btn ${technicians === sheet.run.technicians ? "border-kelp font-bold text-kelp" : ""}`}
                onClick={() => take(technicians)}
              >
                {technicians === 1 ? "1 technician" : `${technicians} technicians`}
              </button>
            ))}
          </fieldset>
          <BenchRules rules={sheet.rules} revision={sheet.revision} />
          <Rehearsal technicians={sheet.run.technicians} now={now} show={setNow} />
          {sheet.problems.length > 0 && (
            <div className="mt-4">
              <Problems problems={sheet.problems} />
            </div>
          )}
          {sheet.times.length > 0 && <Times times={sheet.times} />}
        </section>
        <section className="w-full lg:w-96" aria-label="What comes first">
          <h3 className="border-b border-hair pb-1 font-semibold">What comes first</h3>
          <ol>
            {first.map((step) => (
              <li key={step.id} className="border-b border-hair py-1.5 text-list">
                <span className="flex justify-between gap-3">
                  <span className="font-semibold">{step.title}</span>
                  <span className="whitespace-nowrap text-ink-2">{clock(step.start_s)}</span>
                </span>
                <span className="text-small text-ink-2">{step.why}</span>
              </li>
            ))}
          </ol>
        </section>
      </div>
    </>
  );
}

/** What a rehearsal has come to with a step by this second. */
function stateAt(step: Sheet["steps"][number], now: number): "open" | "doing" | "done" {
  if (now === 0 || step.start_s > now) return "open";
  return step.end_s <= now ? "done" : "doing";
}

/** What benches taught about times, beside what the profiles say. */
function Times({ times }: { times: Sheet["times"] }) {
  return (
    <details className="mt-4">
      <summary className="flex min-h-11 cursor-pointer items-center font-semibold underline">
        {times.length === 1 ? "1 time was" : `${times.length} times were`} learned at the bench
      </summary>
      <ul className="max-w-prose text-small">
        {times.map((row) => (
          <li key={`${row.model} ${row.kind}`} className="border-t border-hair py-1">
            {row.model}, {row.kind}: {Math.round(row.seconds)} s, the median of {row.readings}; its profile
            says {row.profile_s ?? "nothing"} s
          </li>
        ))}
      </ul>
    </details>
  );
}

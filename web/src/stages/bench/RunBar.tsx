import { useSearchParams } from "react-router";
import { spoken, teams } from "./lane";
import { Phone } from "./Phone";
import type { Sheet } from "./useBench";

/** The run in one line: what is left, when it ends, and the few things one can do to it. */
export function RunBar({
  sheet,
  now,
  clock,
  calls,
  change,
}: {
  sheet: Sheet;
  now: number;
  clock: (seconds: number) => string;
  calls: { on: boolean; toggle: () => void };
  change: (change: "pause" | "resume" | "technicians", technicians?: number) => void;
}) {
  const { run } = sheet;
  const [params, setParams] = useSearchParams();
  const paused = run.state === "paused";
  const late = sheet.total_s - run.planned_s;
  function sit(hand: number) {
    const next = new URLSearchParams(params);
    next.set("hand", String(hand));
    setParams(next, { replace: true });
  }
  return (
    <div className="text-small text-ink-2 md:w-60">
      <p className="text-title leading-8 font-bold tracking-tight text-ink max-md:inline">
        {spoken(Math.max(0, sheet.total_s - now))}{" "}
        <span className="text-small font-normal text-ink-2">left</span>
      </p>
      <p className="max-md:inline max-md:pl-2">
        {paused ? "The run rests." : `Done about ${clock(sheet.total_s)}.`}{" "}
        {Math.abs(late) >= 60 && (
          <span className="max-md:hidden">
            {spoken(Math.abs(late))} {late > 0 ? "later" : "sooner"} than planned.
          </span>
        )}
      </p>
      <details>
        <summary className="flex min-h-11 cursor-pointer items-center font-semibold text-ink underline">
          The run
        </summary>
        <div className="grid gap-2 pb-2">
          <p>{run.said}</p>
          <div className="flex flex-wrap gap-2">
            <button
              type="button"
              className="btn text-small"
              onClick={() => change(paused ? "resume" : "pause")}
            >
              {paused ? "Go on" : "Rest"}
            </button>
            <button type="button" className="btn text-small" aria-pressed={calls.on} onClick={calls.toggle}>
              {calls.on ? "Tone is on" : "Tone when ready"}
            </button>
            <Phone hand={run.hand} />
          </div>
          <label className="flex items-center gap-2">
            Technicians
            <select
              className="box w-16"
              value={run.technicians}
              onChange={(event) => change("technicians", Number(event.target.value))}
            >
              {teams(run.technicians).map((many) => (
                <option key={many}>{many}</option>
              ))}
            </select>
          </label>
        </div>
      </details>
      {run.technicians > 1 && (
        <fieldset className="mt-1 flex items-center gap-2">
          <legend className="float-left mr-2">You are technician</legend>
          {Array.from({ length: run.technicians }, (_, index) => index + 1).map((hand) => (
            <button
              key={hand}
              type="button"
              aria-label={`Technician ${hand}`}
              className={`btn min-w-11 justify-center text-small ${hand === run.hand ? "border-kelp font-bold text-kelp" : ""}`}
              aria-pressed={hand === run.hand}
              onClick={() => sit(hand)}
            >
              {hand}
            </button>
          ))}
        </fieldset>
      )}
    </div>
  );
}

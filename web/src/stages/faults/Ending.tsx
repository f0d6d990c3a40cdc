import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Choice } from "../../parts/Choice";
import type { Case, Step, Told } from "./useCase";

type Name = Schemas["FaultName"];

/** What it was: one of the likely causes, one that is chosen, or none of them. */
export function Conclude({
  data,
  step,
  busy,
  close,
}: {
  data: Case;
  step: (step: Step) => void;
  busy: boolean;
  close: () => void;
}) {
  const likely = data.causes.filter((cause) => cause.faults.length > 0).slice(0, 4);
  const [chosen, setChosen] = useState(data.hides ? "own" : likely.length > 0 ? "0" : "none");
  const [own, setOwn] = useState<Name[]>([{ fault: "", at: "" }]);
  const [note, setNote] = useState("");
  const faults = chosen === "none" ? [] : chosen === "own" ? own : (likely[Number(chosen)]?.faults ?? []);
  const ready =
    chosen === "none" ? data.hides || note.trim() !== "" : faults.every((item) => item.fault && item.at);
  return (
    <form
      aria-labelledby="conclude"
      className="mb-4 border border-t-[3px] border-hair border-t-ink bg-sheet p-5"
      onSubmit={(event) => {
        event.preventDefault();
        const named = faults.map(({ fault, at }) => ({ fault, at }));
        step({
          do: "cause",
          faults: named,
          note: note || (named.length === 0 && data.hides ? "given up" : ""),
        });
      }}
    >
      <h2 id="conclude" className="pb-2 text-lead font-semibold">
        What was it?
      </h2>
      <fieldset className="grid gap-1">
        <legend className="sr-only">The cause</legend>
        {likely.map((cause, at) => (
          <Likely key={cause.says} value={String(at)} chosen={chosen} choose={setChosen}>
            {cause.says}
          </Likely>
        ))}
        <Likely value="own" chosen={chosen} choose={setChosen}>
          {data.hides ? "This fault" : "Another fault"}
        </Likely>
        {chosen === "own" && (
          <div className="grid gap-2 pl-8">
            {own.map((item, at) => (
              <OwnFault
                // biome-ignore lint/suspicious/noArrayIndexKey: at most two lines, which stay where they are
                key={at}
                data={data}
                item={item}
                set={(part) => setOwn(own.map((one, other) => (other === at ? { ...one, ...part } : one)))}
              />
            ))}
            {own.length < 2 && (
              <button
                type="button"
                className="min-h-11 justify-self-start text-small underline"
                onClick={() => setOwn([...own, { fault: "", at: "" }])}
              >
                And a second fault
              </button>
            )}
          </div>
        )}
        <Likely value="none" chosen={chosen} choose={setChosen}>
          {data.hides ? "I give up: show me what it is" : "None of the known causes"}
        </Likely>
      </fieldset>
      <label className="grid gap-0.5 pt-3 text-cell">
        {chosen === "none" && !data.hides
          ? "what it was, or what is known of it"
          : "in your words (may stay empty)"}
        <textarea
          className="box min-h-16 py-2"
          value={note}
          maxLength={2000}
          onChange={(event) => setNote(event.target.value)}
        />
      </label>
      <div className="flex gap-4 pt-3">
        <button type="submit" className="btn btn-main" disabled={!ready || busy}>
          {data.hides ? (chosen === "none" ? "Give up" : "Name the cause") : "This was it"}
        </button>
        <button type="button" className="min-h-11 underline" onClick={close}>
          Not yet
        </button>
      </div>
    </form>
  );
}

function Likely({
  value,
  chosen,
  choose,
  children,
}: {
  value: string;
  chosen: string;
  choose: (value: string) => void;
  children: React.ReactNode;
}) {
  return (
    <label className="flex min-h-11 items-center gap-3">
      <input
        type="radio"
        name="cause"
        className="size-5 accent-kelp"
        checked={chosen === value}
        onChange={() => choose(value)}
      />
      {children}
    </label>
  );
}

function OwnFault({ data, item, set }: { data: Case; item: Name; set: (part: Partial<Name>) => void }) {
  const placesOf = (fault: string) => {
    const scope = data.faults.find((one) => one.value === fault)?.scope;
    return scope === "device" ? data.places : (data.fault_places[scope ?? ""] ?? []);
  };
  const places = placesOf(item.fault);
  return (
    <div className="flex flex-wrap gap-2">
      <Choice
        label="fault"
        options={data.faults}
        value={item.fault}
        set={(fault) => {
          const next = placesOf(fault);
          set({ fault, at: next.length === 1 ? (next[0]?.value ?? "") : "" });
        }}
        none="choose …"
        look="min-w-0"
        box="max-w-80"
      />
      {places.length > 1 && (
        <Choice
          label="at"
          options={places}
          value={item.at}
          set={(at) => set({ at })}
          none="choose …"
          look="min-w-0"
          box="max-w-64"
        />
      )}
    </div>
  );
}

/** What was complained of, looked at once more. */
export function Again({ data, tell, busy }: { data: Case; tell: (told: Told) => void; busy: boolean }) {
  return (
    <section
      aria-label="Measure again"
      className="border border-t-[3px] border-brass-fill border-t-ink bg-brass-wash p-5"
    >
      <h2 className="text-lead font-semibold">Measure again</h2>
      <ul>
        {data.seen.slice(0, data.complaint).map((item) => {
          const check = data.checks.find((one) => one.check === item.check);
          const told = { check: item.check, at: item.at };
          return (
            <li key={`${item.check} ${item.at}`} className="border-t border-brass-fill py-3">
              <p className="pb-2">
                {item.name}: {item.short.toLowerCase()}
              </p>
              <div className="flex flex-wrap gap-2">
                {check?.by_server && (
                  <button
                    type="button"
                    className="btn btn-main"
                    disabled={busy}
                    onClick={() => tell({ ...told, result: null })}
                  >
                    Measure it
                  </button>
                )}
                {(data.drill ? [] : check?.answers)?.map((answer) => (
                  <button
                    key={answer.result}
                    type="button"
                    className="btn"
                    disabled={busy}
                    onClick={() => tell({ ...told, result: answer.result })}
                  >
                    {answer.word}
                  </button>
                ))}
              </div>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

/** How a drill went. */
export function DrillEnd({ score, teaches }: { score: NonNullable<Case["score"]>; teaches: string }) {
  return (
    <section
      aria-label="How the drill went"
      className="mb-4 border border-t-[3px] border-hair border-t-ink bg-sheet p-5"
    >
      <h2 className="text-lead font-semibold">{score.right ? "Found and put right" : "Not found at once"}</h2>
      <p className="pb-3">
        {score.truth.join("; ")}. {teaches && <b className="font-semibold">{teaches}</b>}
      </p>
      <dl className="grid grid-cols-[auto_auto] justify-start gap-x-6 gap-y-1">
        <dt className="text-ink-2">Your checks</dt>
        <dd className="font-mono font-semibold">{score.minutes} min</dd>
        <dt className="text-ink-2">The best way</dt>
        <dd className="font-mono font-semibold">{score.best} min</dd>
        <dt className="text-ink-2">The usual order</dt>
        <dd className="font-mono font-semibold">{score.usual} min</dd>
      </dl>
      {score.left && <p className="pt-3">{score.left}</p>}
      {score.best_way.length > 0 && (
        <details className="pt-2">
          <summary className="min-h-11 cursor-pointer py-2 font-semibold">The best way, step by step</summary>
          <ol className="list-decimal pl-6">
            {score.best_way.map((item) => (
              <li key={item}>{item}</li>
            ))}
          </ol>
        </details>
      )}
    </section>
  );
}

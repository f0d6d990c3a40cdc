import { useState } from "react";
import { Caution } from "../../parts/Caution";
import { Choice } from "../../parts/Choice";
import { Mark } from "../../parts/Mark";
import type { Case, Check, Told } from "./useCase";

/** The one next check: what, where, how long, and what each answer would mean. */
export function CheckSlip({
  check,
  tell,
  busy,
}: {
  check: Check;
  tell: (told: Told) => void;
  busy: boolean;
}) {
  return (
    <aside
      aria-label="Check this next"
      className="border border-t-[3px] border-brass-fill border-t-ink bg-brass-wash p-5"
    >
      <p className="flex items-center gap-2 font-bold text-brass">
        <Mark name="turn" /> Check this next
      </p>
      <h2 className="py-2 text-lead font-semibold">{check.asks}</h2>
      <dl className="grid grid-cols-[3.5rem_1fr] gap-y-1.5 border-t border-brass-fill pt-2.5 text-list">
        <dt className="text-ink-2">Where</dt>
        <dd>
          {check.where}
          {check.place && `, ${check.place}`}
        </dd>
        <dt className="text-ink-2">Time</dt>
        <dd>about {check.minutes} min</dd>
      </dl>
      {check.caution && (
        <div className="pt-2.5">
          <Caution>{check.caution}</Caution>
        </div>
      )}
      <ul className="pt-2">
        {check.answers.map((answer, at) => (
          <li key={answer.result} className="border-t border-brass-fill py-2.5 text-list leading-5">
            <button
              type="button"
              className="flex min-h-11 w-full items-start gap-3 text-left"
              disabled={busy}
              onClick={() => tell({ check: check.check, at: check.at, result: answer.result })}
            >
              <kbd className="key mt-0.5">{at + 1}</kbd>
              <span className="min-w-0">
                <b className="font-semibold underline underline-offset-4">{answer.word}</b>
                {answer.means && <span className="block pt-0.5">{answer.means}</span>}
              </span>
            </button>
          </li>
        ))}
      </ul>
      {check.takes_address && <AddressAnswer check={check} tell={tell} busy={busy} />}
      <p className="border-t border-brass-fill pt-2 text-small text-ink-2">
        Of the checks that are left, this one tells most for its minutes.
      </p>
    </aside>
  );
}

function AddressAnswer({ check, tell, busy }: { check: Check; tell: (told: Told) => void; busy: boolean }) {
  const [address, setAddress] = useState("");
  return (
    <form
      className="flex flex-wrap items-end gap-2 border-t border-brass-fill py-2.5"
      onSubmit={(event) => {
        event.preventDefault();
        tell({ check: check.check, at: check.at, result: address.trim() });
      }}
    >
      <label className="grid gap-0.5 text-cell">
        the address it says
        <input
          className="box w-44 font-mono"
          inputMode="decimal"
          value={address}
          onChange={(event) => setAddress(event.target.value)}
        />
      </label>
      <button type="submit" className="btn" disabled={busy || !address.trim()}>
        Write it down
      </button>
    </form>
  );
}

/** Any check at any device. In a drill this is how everything is asked. */
export function AnyCheck({ data, tell, busy }: { data: Case; tell: (told: Told) => void; busy: boolean }) {
  const [at, setAt] = useState(data.seen[0]?.at ?? data.places[0]?.value ?? "");
  const [chosen, setChosen] = useState<string | null>(null);
  const check = data.checks.find((item) => item.check === chosen);
  const made = (name: string) => data.seen.some((item) => item.check === name && item.at === at);
  return (
    <section aria-label="Any check" className="border border-t-[3px] border-hair border-t-ink bg-sheet p-5">
      <Choice
        label={data.drill ? "check at" : "another check, at"}
        options={data.places}
        value={at}
        set={setAt}
      />
      <ul className="grid grid-cols-1 pt-3 sm:grid-cols-2 xl:grid-cols-1">
        {data.checks.map((item) => (
          <li key={item.check} className="border-t border-hair">
            <button
              type="button"
              className="flex min-h-11 w-full items-center justify-between gap-3 text-left text-list"
              disabled={busy}
              aria-expanded={data.drill ? undefined : chosen === item.check}
              onClick={() =>
                data.drill
                  ? tell({ check: item.check, at, result: null })
                  : setChosen(chosen === item.check ? null : item.check)
              }
            >
              <span className="underline underline-offset-4">{item.short}</span>
              <span className="text-small whitespace-nowrap text-ink-2">
                {made(item.check) ? "made, " : ""}
                {item.minutes} min
              </span>
            </button>
            {chosen === item.check && check && (
              <div className="flex flex-wrap gap-2 pb-3">
                {check.caution && <Caution>{check.caution}</Caution>}
                {check.by_server && (
                  <button
                    type="button"
                    className="btn btn-main"
                    disabled={busy}
                    onClick={() => tell({ check: check.check, at, result: null })}
                  >
                    Measure it
                  </button>
                )}
                {check.answers.map((answer) => (
                  <button
                    key={answer.result}
                    type="button"
                    className="btn"
                    disabled={busy}
                    onClick={() => tell({ check: check.check, at, result: answer.result })}
                  >
                    {answer.word}
                  </button>
                ))}
              </div>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

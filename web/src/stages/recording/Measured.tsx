import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Refused, type Schemas } from "../../api/client";
import { useSiteKey } from "../../api/site";
import { Trouble } from "../../parts/Feedback";
import type { Draft } from "../../parts/useTrial";
import type { Recorder, Trial } from "./Recording";
import { dailyWords, days } from "./words";

type Unit = "GB" | "TB" | "GiB" | "TiB";
type Typed = { at: string; used: string; unit: Unit };

/** Two readings of the used space after the first days: what it really writes, and when it is full. */
export function Measured({ recorder, trial }: { recorder: Recorder; trial: Trial }) {
  const key = useSiteKey();
  const [first, setFirst] = useState<Typed>({ at: "", used: "", unit: "TiB" });
  const [second, setSecond] = useState<Typed>({ at: "", used: "", unit: "TiB" });
  const reading = (item: Typed) => ({
    at: item.at,
    used: Number(item.used.replace(",", ".")) || 0,
    unit: item.unit,
  });
  const work = useMutation<Schemas["Measured"], Refused, void>({
    mutationFn: () =>
      ask(
        client.POST("/api/sites/{key}/recording/measured", {
          params: { path: { key } },
          body: {
            draft: trial.draft ?? {},
            recorder: recorder.key,
            first: reading(first),
            second: reading(second),
          },
        }),
      ),
  });
  const found = work.data;
  return (
    <details className="border-t border-hair">
      <summary className="flex min-h-11 cursor-pointer items-center text-list underline underline-offset-4">
        Measure it after the first days
      </summary>
      <form
        className="grid gap-2 pb-2"
        onSubmit={(event) => {
          event.preventDefault();
          work.mutate();
        }}
      >
        <p className="text-small text-ink-2">
          Read the used space twice, days apart. What is measured beats what is worked out.
        </p>
        <Reading name="First reading" item={first} change={setFirst} />
        <Reading name="Second reading" item={second} change={setSecond} />
        <button
          type="submit"
          className="btn justify-self-start"
          disabled={!first.at || !second.at || work.isPending}
        >
          Work it out
        </button>
        {work.error && <Trouble error={work.error} />}
        {found && (
          <div aria-live="polite" className="border-l-4 border-kelp pl-3">
            <p className="font-semibold">
              {dailyWords(found.bytes_per_day)} a day are written, {days(found.days)} fit.
            </p>
            {found.of_estimate !== null && (
              <p className="text-small">
                That is {found.of_estimate.toFixed(2)} times what was worked out.
                {found.full_at && ` Full on ${found.full_at.replace("T", " at ")}.`}
              </p>
            )}
            <button type="button" className="btn mt-2" onClick={() => trial.replace(found.draft as Draft)}>
              Take these rates
            </button>
          </div>
        )}
      </form>
    </details>
  );
}

function Reading({ name, item, change }: { name: string; item: Typed; change: (item: Typed) => void }) {
  return (
    <fieldset className="flex flex-wrap gap-2">
      <legend className="text-small font-semibold">{name}</legend>
      <input
        type="datetime-local"
        aria-label={`${name}, when`}
        className="box min-w-0 flex-1 basis-44"
        value={item.at}
        onChange={(event) => change({ ...item, at: event.target.value })}
      />
      <input
        aria-label={`${name}, used space`}
        className="box w-24 font-mono"
        inputMode="decimal"
        placeholder="used"
        value={item.used}
        onChange={(event) => change({ ...item, used: event.target.value })}
      />
      <select
        aria-label={`${name}, unit`}
        className="box"
        value={item.unit}
        onChange={(event) => change({ ...item, unit: event.target.value as Unit })}
      >
        {["GB", "TB", "GiB", "TiB"].map((unit) => (
          <option key={unit}>{unit}</option>
        ))}
      </select>
    </fieldset>
  );
}

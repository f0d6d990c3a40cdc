import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Refused, type Schemas } from "../../api/client";
import { useSiteKey } from "../../api/site";
import { Choice } from "../../parts/Choice";
import { Trouble } from "../../parts/Feedback";
import { State } from "../../parts/Mark";
import type { Sheet } from "./Later";

/** When was a recording really made? By the clock differences that were kept. */
export function WhenRecorded({ sheet }: { sheet: Sheet }) {
  const key = useSiteKey();
  const [device, setDevice] = useState(sheet.clocks[0]?.value ?? "");
  const [shown, setShown] = useState("");
  const asked = useMutation<Schemas["FootageRow"], Refused>({
    mutationFn: () =>
      ask(
        client.GET("/api/sites/{key}/later/footage", { params: { path: { key }, query: { device, shown } } }),
      ),
  });
  return (
    <div className="max-w-3xl">
      <p className="text-ink-2">
        A picture shows the time of its device’s clock. What the clock was off then tells when it was made.
      </p>
      <form
        className="flex flex-wrap items-end gap-3 py-3"
        onSubmit={(event) => {
          event.preventDefault();
          asked.mutate();
        }}
      >
        <Choice label="whose clock it shows" options={sheet.clocks} value={device} set={setDevice} />
        <label className="grid gap-0.5 text-cell">
          the time that it shows
          <input
            type="datetime-local"
            step="1"
            className="box"
            value={shown}
            onChange={(event) => setShown(event.target.value)}
          />
        </label>
        <button type="submit" className="btn btn-main" disabled={asked.isPending || !device || !shown}>
          When was it made?
        </button>
      </form>
      {asked.error && <Trouble error={asked.error} />}
      {asked.data && (
        <section aria-label="When it was made" className="slip" aria-live="polite">
          <p className="text-lead font-semibold">{asked.data.sentence}</p>
          <p className="pt-1 text-small">
            {asked.data.certain ? (
              <State name="set">Looks before and after it agree.</State>
            ) : (
              <State name="off">This is not certain: see what it rests on.</State>
            )}
          </p>
        </section>
      )}
    </div>
  );
}

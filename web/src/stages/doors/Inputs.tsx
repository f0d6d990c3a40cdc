import { useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useChange } from "../../api/site";
import { Trouble } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";

type Row = Schemas["InputRow"];
type Panel = Schemas["PanelInputs"];

/** What the panel of a door watches of itself: each input on or off, by rule or by decision with a reason and a day. */
export function Inputs({ panel }: { panel: Panel }) {
  const [open, setOpen] = useState<string | null>(null);
  const today = new Date().toISOString().slice(0, 10);
  const change = useChange<Record<string, unknown> | null, unknown>((key, now) =>
    ask(
      client.PATCH("/api/sites/{key}/recording", {
        params: { path: { key } },
        body: {
          draft: { devices: { [panel.panel]: { "x-inputs": now } } },
          was: { devices: { [panel.panel]: { "x-inputs": panel.part ?? null } } },
        },
      }),
    ),
  );
  const set = (name: string, decided: Record<string, unknown> | null) => {
    const now = Object.fromEntries(
      Object.entries((panel.part ?? {}) as Record<string, unknown>).filter(
        ([, one]) => one !== null && typeof one === "object",
      ),
    );
    if (decided === null) delete now[name];
    else now[name] = decided;
    change.mutate(Object.keys(now).length ? now : null, { onSuccess: () => setOpen(null) });
  };
  return (
    <section aria-label={`Inputs of ${panel.name}`} className="mt-4 border-t-2 border-ink pt-3">
      <h2 className="font-semibold">What {panel.name} watches</h2>
      <ul className="text-small">
        {panel.inputs.map((row) => (
          <li key={row.name} className="border-b border-hair py-1">
            <span className="flex items-center justify-between gap-2">
              <span>
                <b className="font-semibold">{row.label}</b>: {row.on ? "on" : "off"}
                {row.decided && ", by decision"}
              </span>
              <button
                type="button"
                className="min-h-11 underline underline-offset-4"
                aria-expanded={open === row.name}
                aria-label={`Change ${row.label}`}
                disabled={change.isPending}
                onClick={() => setOpen(open === row.name ? null : row.name)}
              >
                Change
              </button>
            </span>
            <p className="text-ink-2">{row.why}</p>
            {row.review && (
              <p
                className={`flex items-center gap-2 ${row.review <= today ? "font-semibold text-brass" : "text-ink-2"}`}
              >
                {row.review <= today && <Mark name="off" />}
                {row.review <= today ? "To be looked at again since" : "Look again on"} {row.review}.
              </p>
            )}
            {open === row.name && <Decide row={row} set={set} busy={change.isPending} />}
          </li>
        ))}
      </ul>
      {change.error && <Trouble error={change.error} />}
    </section>
  );
}

function Decide({
  row,
  set,
  busy,
}: {
  row: Row;
  set: (name: string, decided: Record<string, unknown> | null) => void;
  busy: boolean;
}) {
  const [reason, setReason] = useState(row.decided ? row.why : "");
  const [review, setReview] = useState(row.review ?? "");
  const to = row.decided ? row.on : !row.on;
  return (
    <form
      className="grid gap-2 py-2"
      aria-label={`Decide ${row.label}`}
      onSubmit={(event) => {
        event.preventDefault();
        set(row.name, { on: to, reason: reason.trim(), ...(review ? { review } : {}) });
      }}
    >
      <label className="grid gap-1">
        Why it is {to ? "on" : "off"}
        <input
          className="box"
          value={reason}
          maxLength={500}
          onChange={(event) => setReason(event.target.value)}
        />
      </label>
      <label className="grid gap-1">
        Look again on
        <input
          className="box"
          type="date"
          value={review}
          onChange={(event) => setReview(event.target.value)}
        />
      </label>
      <span className="flex flex-wrap gap-2">
        <button type="submit" className="btn" disabled={busy || !reason.trim()}>
          {row.decided ? "Save" : to ? "Switch it on" : "Switch it off"}
        </button>
        {row.decided && (
          <button type="button" className="btn" disabled={busy} onClick={() => set(row.name, null)}>
            As usual again
          </button>
        )}
      </span>
    </form>
  );
}

import { type FormEvent, useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useChange } from "../../api/site";
import { Trouble } from "../../parts/Feedback";
import { State } from "../../parts/Mark";

type Ring = Schemas["RingRow"];
const PARTS = [
  ["monitor_s", "Monitors ring", "bg-slate"],
  ["forward_s", "Forwarding", "bg-lease"],
  ["person_s", "A person comes", "bg-brass-fill"],
] as const;
type Part = (typeof PARTS)[number][0] | "station_s";

/** How long a station must ring: what follows one after the other, above how long it rings. */
export function RingChain({ ring, revision }: { ring: Ring; revision: number }) {
  const [typed, setTyped] = useState<Record<Part, string>>({
    monitor_s: String(ring.monitor_s),
    forward_s: String(ring.forward_s),
    person_s: String(ring.person_s),
    station_s: String(ring.station_s),
  });
  const change = useChange((key, body: Schemas["NumberingChange"]) =>
    ask(client.PATCH("/api/sites/{key}/numbers", { params: { path: { key } }, body })),
  );
  const whole = Math.max(ring.needed_s, ring.station_s, 1);
  const wide = (seconds: number) => ({ width: `${(100 * seconds) / whole}%` });
  const same = (Object.keys(typed) as Part[]).every((name) => Number(typed[name]) === ring[name]);
  function keep(event: FormEvent) {
    event.preventDefault();
    const seconds = Object.fromEntries(Object.entries(typed).map(([name, text]) => [name, Number(text)]));
    change.mutate({ revision, ...seconds });
  }
  return (
    <section aria-label="Ring times">
      <h2 className="flex items-center justify-between gap-3 border-b border-hair pb-1 font-semibold">
        Ring times
        <span className="text-small font-normal">
          <State name={ring.holds ? "set" : "off"}>{ring.holds ? "long enough" : "too short"}</State>
        </span>
      </h2>
      <p className="py-2 text-small">{ring.sentence}</p>
      <div aria-hidden="true" className="grid gap-1">
        <div className="flex h-4">
          {PARTS.map(([name, , look]) => (
            <div key={name} className={`border-r border-paper ${look}`} style={wide(ring[name])} />
          ))}
        </div>
        <div className="h-2 bg-kelp" style={wide(ring.station_s)} />
      </div>
      <form onSubmit={keep} className="mt-2 grid grid-cols-2 gap-x-4 gap-y-2">
        {[...PARTS, ["station_s", "The station rings", "bg-kelp"] as const].map(([name, label, look]) => (
          <label key={name} className="grid gap-1 text-small">
            <span className="flex items-center gap-2">
              <span aria-hidden="true" className={`inline-block size-3 ${look}`} />
              {label}, s
            </span>
            <input
              className="box min-h-9 max-md:min-h-11 w-full font-mono"
              inputMode="decimal"
              value={typed[name]}
              onChange={(event) => setTyped({ ...typed, [name]: event.target.value.replace(/[^\d.]/g, "") })}
            />
          </label>
        ))}
        {!same && (
          <button
            type="submit"
            className="btn col-span-2 min-h-9 max-md:min-h-11 justify-self-start"
            disabled={change.isPending}
          >
            Save the ring times
          </button>
        )}
      </form>
      {change.error && <Trouble error={change.error} />}
    </section>
  );
}

import { type FormEvent, useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useChange } from "../../api/site";
import { Trouble } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";

type Sheet = Schemas["DevicePage"];

/** The device's ports: kept as delivered unless there is a reason, and who must be told when one changes. */
export function PortForm({ data }: { data: Sheet }) {
  const [typed, setTyped] = useState<Record<string, string>>({});
  const change = useChange((key, ports: Record<string, number>) =>
    ask(
      client.PUT("/api/sites/{key}/devices/{device}/ports", {
        params: { path: { key, device: data.key } },
        body: { revision: data.revision, ports },
      }),
    ),
  );
  const changed = data.ports.filter(
    (row) => typed[row.service] !== undefined && typed[row.service] !== String(row.port),
  );
  const wrong = changed.find((row) => {
    const text = typed[row.service] ?? "";
    return !/^\d{1,5}$/.test(text) || Number(text) < 1 || Number(text) > 65535;
  });
  const told = [...new Set(changed.flatMap((row) => row.told))];
  function submit(event: FormEvent) {
    event.preventDefault();
    const ports = Object.fromEntries(changed.map((row) => [row.service, Number(typed[row.service])]));
    change.mutate(ports, { onSuccess: () => setTyped({}) });
  }
  return (
    <section aria-label="Its ports">
      <h2 className="border-b border-hair pb-1 font-semibold">Its ports</h2>
      <form onSubmit={submit}>
        <ul className="text-small">
          {data.ports.map((row) => (
            <li key={row.service} className="flex items-center gap-3 border-b border-hair py-1">
              <label htmlFor={`port-${row.service}`} className="min-w-0 flex-1">
                {row.title}
                {row.changed && <span className="text-ink-2"> usually {row.usual}</span>}
              </label>
              <input
                id={`port-${row.service}`}
                className="box w-24 font-mono"
                inputMode="numeric"
                value={typed[row.service] ?? String(row.port)}
                onChange={(event) => setTyped({ ...typed, [row.service]: event.target.value })}
              />
            </li>
          ))}
        </ul>
        {wrong && (
          <p className="pt-2 text-small font-medium text-red">
            “{typed[wrong.service]}” is no port: a number from 1 to 65535 is expected.
          </p>
        )}
        {changed.length > 0 && !wrong && (
          <div className="pt-2">
            <p className="flex items-start gap-2 pb-2 text-small">
              <Mark name="off" />
              {told.length > 0
                ? `Then it must be typed into ${told.join(", ")} too.`
                : "Nobody else has it typed in."}
            </p>
            <button type="submit" className="btn btn-main" disabled={change.isPending}>
              Change {changed.length === 1 ? "the port" : `${changed.length} ports`}
            </button>
          </div>
        )}
        {change.error && <Trouble error={change.error} />}
      </form>
    </section>
  );
}

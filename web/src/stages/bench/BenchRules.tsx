import { type FormEvent, useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useChange } from "../../api/site";
import { Trouble } from "../../parts/Feedback";
import { Held } from "../../parts/Rights";
import { typedNumber } from "../../parts/words";

type Rules = Schemas["BenchRules"];
type Change = Omit<Schemas["BenchRulesChange"], "revision">;
type Switch = "leases" | "several_addresses" | "update_firmware";
type Amount = "ports" | "connect_s" | "adapter_s" | "confirm_s";

const SWITCHES: [Switch, string][] = [
  ["leases", "The bench has a DHCP server"],
  ["several_addresses", "The laptop may hold several addresses at once"],
  ["update_firmware", "Firmware is updated at the bench"],
];
const AMOUNTS: [Amount, string][] = [
  ["ports", "Free ports of the switch"],
  ["connect_s", "Plug in a device, s"],
  ["adapter_s", "Change the laptop's address, s"],
  ["confirm_s", "Confirm at the end, s"],
];

/** What stands at the bench; the order of the run follows from it. */
export function BenchRules({ rules, revision }: { rules: Rules; revision: number }) {
  const [typed, setTyped] = useState<Record<string, string>>({});
  const change = useChange((key, part: Change) =>
    ask(
      client.PATCH("/api/sites/{key}/bench/rules", {
        params: { path: { key } },
        body: { revision, ...part },
      }),
    ),
  );
  const changed = AMOUNTS.filter(
    ([name]) => typed[name] !== undefined && typed[name]?.trim() !== String(rules[name]),
  );
  function submit(event: FormEvent) {
    event.preventDefault();
    const part = changed.map(([name]) => [name, typedNumber(typed[name] ?? "") ?? ""]);
    change.mutate(Object.fromEntries(part) as Change);
  }
  const said = [
    `${rules.ports} ports`,
    rules.leases ? "DHCP server" : "no DHCP server",
    rules.update_firmware ? "firmware updated" : "no firmware updates",
  ].join(", ");
  return (
    <details className="mt-4">
      <summary className="flex min-h-11 cursor-pointer flex-wrap items-center gap-x-2">
        <span className="font-semibold underline">What stands at the bench</span>
        <span className="text-small text-ink-2">{said}</span>
      </summary>
      <div className="grid max-w-prose gap-1 pt-1">
        <Held right="decide" to="change it">
          {SWITCHES.map(([name, word]) => (
            <label key={name} className="flex min-h-11 items-center gap-3">
              <input
                type="checkbox"
                className="size-5"
                checked={rules[name]}
                disabled={change.isPending}
                onChange={(event) => change.mutate({ [name]: event.target.checked })}
              />
              {word}
            </label>
          ))}
          <form className="flex flex-wrap items-end gap-3 pt-1" onSubmit={submit}>
            {AMOUNTS.map(([name, word]) => (
              <label key={name} className="grid gap-1 text-small">
                {word}
                <input
                  className="box w-44 font-mono"
                  inputMode="decimal"
                  value={typed[name] ?? String(rules[name])}
                  onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
                />
              </label>
            ))}
            {changed.length > 0 && (
              <button type="submit" className="btn" disabled={change.isPending}>
                Save
              </button>
            )}
          </form>
          {change.error && <Trouble error={change.error} />}
        </Held>
      </div>
    </details>
  );
}

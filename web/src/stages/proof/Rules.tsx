import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSiteKey } from "../../api/site";
import { Trouble } from "../../parts/Feedback";
import { Held } from "../../parts/Rights";

type Rules = Schemas["ProofRulesSheet"];
type Witness = NonNullable<Schemas["RulesChange"]["witnessed"]>[string][number];

/** What this site asks of its devices before they count as proven. */
export function RulesOfProof() {
  const [open, setOpen] = useState(false);
  return (
    <details
      className="mt-6 border-t border-hair pt-3"
      onToggle={(event) => setOpen((event.target as HTMLDetailsElement).open)}
    >
      <summary className="min-h-11 cursor-pointer font-semibold">What this site asks for</summary>
      {open && <Fetched />}
    </details>
  );
}

function Fetched() {
  const site = useSiteKey();
  const rules = useQuery({
    queryKey: ["site", site, "proof rules"],
    queryFn: () => ask(client.GET("/api/sites/{key}/proof/rules", { params: { path: { key: site } } })),
  });
  if (rules.error) return <Trouble error={rules.error} />;
  if (!rules.data) return <p className="text-small text-ink-2">Looking it up.</p>;
  return (
    <Held right="decide" to="change what is asked">
      <Form rules={rules.data} />
    </Held>
  );
}

function Form({ rules }: { rules: Rules }) {
  const change = useChange((key, part: Omit<Schemas["RulesChange"], "revision">) =>
    ask(
      client.PATCH("/api/sites/{key}/proof/rules", {
        params: { path: { key } },
        body: { revision: rules.revision, ...part },
      }),
    ),
  );
  const [seconds, setSeconds] = useState(String(rules.clock_s));
  const leftOut = rules.measured.filter((row) => !row.asked).map((row) => row.check);
  const without = (list: string[], name: string) => list.filter((item) => item !== name);
  return (
    <div className="grid gap-4 py-2">
      {change.error && <Trouble error={change.error} />}
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate({ clock_s: Number(seconds) });
        }}
      >
        <label className="grid gap-1 text-small font-semibold">
          A clock may be off by, in seconds
          <input
            className="box w-32 font-normal"
            type="number"
            min="0.5"
            max="3600"
            step="0.5"
            value={seconds}
            onChange={(event) => setSeconds(event.target.value)}
          />
        </label>
        <button
          type="submit"
          className="btn"
          disabled={change.isPending || Number(seconds) === rules.clock_s || !(Number(seconds) >= 0.5)}
        >
          Keep
        </button>
      </form>
      <fieldset>
        <legend className="pb-1 text-small font-semibold">Measured here</legend>
        <div className="grid gap-x-6 md:grid-cols-3">
          {rules.measured.map((row) => (
            <Box
              key={row.check}
              words={row.title}
              checked={row.asked}
              disabled={row.fixed || change.isPending}
              toggle={() =>
                change.mutate({
                  left_out: row.asked ? [...leftOut, row.check] : without(leftOut, row.check),
                })
              }
            />
          ))}
        </div>
      </fieldset>
      <fieldset>
        <legend className="pb-1 text-small font-semibold">To be seen with somebody’s own eyes</legend>
        <p className="pb-1 text-small text-ink-2">
          The egress test of an escape door is always asked for, and always of a named person.
        </p>
        {rules.families.map(({ family, word, seen }) => {
          const asked = seen.filter((row) => row.asked).map((row) => row.check as Witness);
          return (
            <div key={family} role="group" aria-label={`Seen of ${word}`} className="flex flex-wrap gap-x-6">
              <span className="flex min-h-11 w-40 items-center text-small text-ink-2">{word}</span>
              {seen.map((row) => (
                <Box
                  key={row.check}
                  words={row.title}
                  checked={row.asked}
                  disabled={change.isPending}
                  toggle={() =>
                    change.mutate({
                      witnessed: {
                        [family]: row.asked
                          ? (without(asked, row.check) as Witness[])
                          : [...asked, row.check as Witness],
                      },
                    })
                  }
                />
              ))}
            </div>
          );
        })}
      </fieldset>
    </div>
  );
}

function Box({
  words,
  checked,
  disabled,
  toggle,
}: {
  words: string;
  checked: boolean;
  disabled: boolean;
  toggle: () => void;
}) {
  return (
    <label className="flex min-h-11 items-center gap-2">
      <input type="checkbox" checked={checked} disabled={disabled} onChange={toggle} />
      {words}
    </label>
  );
}

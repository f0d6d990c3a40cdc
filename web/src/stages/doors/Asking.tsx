import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Refused, type Schemas } from "../../api/client";
import { useSiteKey } from "../../api/site";
import { Trouble } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";
import type { AccessSheet } from "./Access";

/** "May this person open this door then, and by which rule?" answered in one line. */
export function Asking({ data }: { data: AccessSheet }) {
  const key = useSiteKey();
  const [person, setPerson] = useState("");
  const [door, setDoor] = useState("");
  const [when, setWhen] = useState(() => new Date().toISOString().slice(0, 16));
  const who = data.people.find((item) => item.key === person || item.name === person);
  const found = useQuery<Schemas["MayRow"], Refused>({
    queryKey: ["site", key, "may", who?.key, door, when],
    queryFn: () =>
      ask(
        client.GET("/api/sites/{key}/access/may", {
          params: { path: { key }, query: { person: who?.key ?? "", door, when } },
        }),
      ),
    enabled: who !== undefined && door !== "" && when !== "",
    retry: false,
  });
  return (
    <section aria-label="Ask" className="border-t-2 border-ink py-2">
      <div className="flex flex-wrap items-end gap-3">
        <label className="grid gap-1 text-small font-semibold">
          May
          <input
            className="box w-56 font-normal"
            list="people-known"
            placeholder="name"
            value={person}
            onChange={(event) => setPerson(event.target.value)}
          />
          <datalist id="people-known">
            {data.people.map((item) => (
              <option key={item.key} value={item.name} />
            ))}
          </datalist>
        </label>
        <label className="grid gap-1 text-small font-semibold">
          open
          <select className="box font-normal" value={door} onChange={(event) => setDoor(event.target.value)}>
            <option value="">a door …</option>
            {data.doors.map((item) => (
              <option key={item.value} value={item.value}>
                {item.word}
              </option>
            ))}
          </select>
        </label>
        <label className="grid gap-1 text-small font-semibold">
          on
          <input
            type="datetime-local"
            className="box font-normal"
            value={when}
            onChange={(event) => setWhen(event.target.value)}
          />
        </label>
      </div>
      {found.error && <Trouble error={found.error} />}
      {found.data && (
        <div aria-live="polite" className="pt-2">
          <p className="flex items-start gap-2 text-lead font-semibold">
            <span className="mt-1.5">
              <Mark name={found.data.may ? (found.data.now ? "set" : "off") : "cut"} />
            </span>
            {found.data.said}
          </p>
          <details>
            <summary className="min-h-11 cursor-pointer py-2.5 text-small underline underline-offset-4">
              Every rule
            </summary>
            <ul className="text-small">
              {[...found.data.because, ...found.data.refused].map((item) => (
                <li key={`${item.rule} ${item.code}`} className="border-t border-hair py-1">
                  <b className="font-semibold">{item.rule ?? "no rule"}</b>{" "}
                  {item.code ? "does not: " : "lets pass: "}
                  {item.why}.
                </li>
              ))}
            </ul>
          </details>
        </div>
      )}
      {person !== "" && !who && (
        <p className="pt-1 text-small text-ink-2">Nobody shown is called “{person}”.</p>
      )}
    </section>
  );
}

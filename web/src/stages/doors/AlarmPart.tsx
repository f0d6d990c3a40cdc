import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useSheet } from "../../api/site";
import { Caution } from "../../parts/Caution";
import { Empty, Loading, Trouble } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";
import { useItem } from "./useItem";

type Hub = Schemas["HubRow"];
type Part = Record<string, unknown>;
const STATES = { away: "armed, away", home: "armed, at home", disarmed: "disarmed" } as const;
const RIGHTS = { arm: "arm and disarm", manage: "manage users", install: "install" } as const;

/** The alarm hubs: found how, on test until when, what is tried, left how. */
export function AlarmPart() {
  const sheet = useSheet("alarm");
  if (!sheet.data)
    return sheet.error ? (
      <Trouble error={sheet.error} retry={() => sheet.refetch()} />
    ) : (
      <Loading what="the alarm" />
    );
  if (sheet.data.hubs.length === 0)
    return (
      <Empty title="No alarm hub is in the kit">Hubs stand here with their zones, ways and users.</Empty>
    );
  return (
    <>
      {sheet.data.hubs.map((hub) => (
        <HubPage key={hub.hub} hub={hub} watched={sheet.data.watched_by} />
      ))}
    </>
  );
}

function HubPage({ hub, watched }: { hub: Hub; watched: string | null }) {
  const change = useItem();
  const was = hub.there ? (hub.part as Part) : null;
  const set = (parts: Part) =>
    change.mutate({ kind: "hubs", item: hub.hub, was, now: { ...hub.part, hub: hub.hub, ...parts } });
  const tests = (hub.part.tests as Part[] | undefined) ?? [];
  const tried = (what: Part) =>
    set({
      tests: [...tests, { ...what, result: "pass" }],
    });
  return (
    <section aria-label={hub.name} className="flex flex-col gap-6 pt-3 xl:flex-row">
      <fieldset disabled={change.isPending} className="contents">
        <div className="min-w-0 flex-1">
          <h2 className="text-lead font-semibold">{hub.name}</h2>
          <Caution>
            A monitored alarm goes on test before the work, and off test after it; whoever may disarm it does
            that.
          </Caution>
          {change.error && <Trouble error={change.error} />}
          <ol className="mt-2 border-t-2 border-ink">
            <Step title="As found" done={hub.armed_as_found !== null}>
              <State
                value={hub.armed_as_found}
                set={(value) => set({ armed_as_found: value })}
                label="How it was found"
              />
            </Step>
            <Step title="Station on test" done={hub.on_test !== null || hub.open.length === 0}>
              <OnTest hub={hub} set={set} watched={watched} />
            </Step>
            <Step title="Zones" done={hub.zones.length > 0 && hub.zones.every((zone) => zone.tested)}>
              {hub.zones.length === 0 && <p className="text-ink-2">No detector is linked to it yet.</p>}
              <ul>
                {hub.zones.map((zone) => (
                  <li key={zone.device} className="flex flex-wrap items-center gap-3 py-1">
                    <Mark
                      name={zone.tested ? "set" : "planned"}
                      word={zone.tested ? "confirmed" : "not tried yet"}
                    />
                    <b className="font-semibold">
                      {zone.number !== null && `${zone.number} `}
                      {zone.name}
                    </b>
                    <span className="text-small text-ink-2">{zone.place}</span>
                    {!zone.tested && (
                      <button
                        type="button"
                        className="btn ml-auto"
                        disabled={hub.on_test === null || change.isPending}
                        title={hub.on_test === null ? "Put the station on test first" : undefined}
                        onClick={() => tried({ zone: zone.device })}
                      >
                        The station confirmed it
                      </button>
                    )}
                  </li>
                ))}
              </ul>
            </Step>
            <Step
              title="Ways to the station"
              done={hub.ways.length > 0 && hub.ways.every((way) => way.tested)}
            >
              <p className="text-small">
                <b>{hub.apart}</b> {hub.apart === 1 ? "way fails" : "ways fail"} apart from the others.
                {hub.remark && ` ${hub.remark[0]?.toUpperCase()}${hub.remark.slice(1)}.`}
              </p>
              <ul>
                {hub.ways.map((way) => (
                  <li key={way.way} className="flex flex-wrap items-center gap-3 py-1">
                    <Mark
                      name={way.tested ? "set" : "planned"}
                      word={way.tested ? "tried alone" : "not tried yet"}
                    />
                    <b className="w-40 font-semibold">{way.word}</b>
                    {way.way.startsWith("mobile") && (
                      <NetworkBox
                        way={way}
                        set={(network) =>
                          set({ "x-networks": { ...(hub.part["x-networks"] as Part), [way.way]: network } })
                        }
                      />
                    )}
                    {way.way === "wifi" && (
                      <label className="flex min-h-11 items-center gap-2 text-small">
                        <input
                          type="checkbox"
                          checked={way.network === "guest"}
                          onChange={(event) =>
                            set({
                              "x-networks": {
                                ...(hub.part["x-networks"] as Part),
                                wifi: event.target.checked ? "guest" : "own",
                              },
                            })
                          }
                        />
                        a guest network
                      </label>
                    )}
                    {!way.tested && (
                      <button
                        type="button"
                        className="btn ml-auto"
                        disabled={hub.on_test === null || change.isPending}
                        title={hub.on_test === null ? "Put the station on test first" : undefined}
                        onClick={() => tried({ path: way.way })}
                      >
                        Tried alone, confirmed
                      </button>
                    )}
                  </li>
                ))}
              </ul>
            </Step>
            <Step title="Left" done={hub.armed_left !== null && hub.armed_left === hub.armed_as_found}>
              <State
                value={hub.armed_left}
                set={(value) => set({ armed_left: value })}
                label="How it is left"
              />
              {hub.armed_left !== null && hub.armed_left !== hub.armed_as_found && (
                <p className="flex items-center gap-2 pt-1 font-semibold text-brass">
                  <Mark name="off" /> It was found{" "}
                  {hub.armed_as_found ? STATES[hub.armed_as_found as keyof typeof STATES] : "otherwise"}.
                </p>
              )}
            </Step>
          </ol>
          {hub.open.length > 0 && (
            <>
              <h3 className="pt-3 font-semibold">Still open</h3>
              <ul className="text-small">
                {hub.open.map((item) => (
                  <li key={item} className="flex items-start gap-2 py-0.5">
                    <Mark name="planned" /> {item}
                  </li>
                ))}
              </ul>
            </>
          )}
        </div>
        <aside aria-label={`What ${hub.name} holds`} className="slip w-full self-start xl:w-82 xl:shrink-0">
          <h2 className="text-lead font-semibold">What it holds</h2>
          <ul className="pb-2 text-small">
            {hub.room.map((room) => (
              <li key={room.what} className="flex items-center gap-2 py-0.5">
                <Mark name={room.over ? "broken" : "set"} word={room.over ? "too many" : "fits"} />
                <b>{room.used}</b> {room.most === null ? "" : `of ${room.most} `}
                {room.what}
              </li>
            ))}
          </ul>
          <People hub={hub} set={set} />
          <h3 className="mt-3 border-t border-hair pt-2 font-semibold">For the station</h3>
          <p className="text-small">
            {hub.station ?? "Its receiver is not known"}
            {hub.account ? `, account ${hub.account}` : ", no account yet"}
          </p>
          <label className="grid gap-1 pt-1 text-small">
            What it answered
            <textarea
              key={String(hub.part["x-answer"] ?? "")}
              className="box min-h-16"
              maxLength={500}
              placeholder="receiver, format, who said so"
              defaultValue={String(hub.part["x-answer"] ?? "")}
              onBlur={(event) => {
                const said = event.target.value.trim();
                if (said !== (hub.part["x-answer"] ?? "")) set({ "x-answer": said || undefined });
              }}
            />
          </label>
        </aside>
      </fieldset>
    </section>
  );
}

function Step({ title, done, children }: { title: string; done: boolean; children: React.ReactNode }) {
  return (
    <li className="grid gap-x-4 gap-y-1 border-b border-hair py-2 md:grid-cols-[150px_minmax(0,1fr)]">
      <b className="flex items-center gap-2 self-start pt-2 font-semibold">
        <Mark name={done ? "set" : "planned"} word={done ? "done" : "open"} /> {title}
      </b>
      <div className="min-w-0">{children}</div>
    </li>
  );
}

function State({
  value,
  set,
  label,
}: {
  value: string | null;
  set: (value: string | null) => void;
  label: string;
}) {
  return (
    <select
      className="box"
      aria-label={label}
      value={value ?? ""}
      onChange={(event) => set(event.target.value || null)}
    >
      <option value="">not written down</option>
      {Object.entries(STATES).map(([key, word]) => (
        <option key={key} value={key}>
          {word}
        </option>
      ))}
    </select>
  );
}

function OnTest({ hub, set, watched }: { hub: Hub; set: (parts: Part) => void; watched: string | null }) {
  const [told, setTold] = useState("");
  const on = hub.on_test as { until?: string; told?: string; by?: string } | null;
  if (on)
    return (
      <p className="flex flex-wrap items-center gap-3">
        <Mark name="off" />
        <span>
          On test until <b className="font-mono">{on.until?.slice(11, 16) ?? "?"} UTC</b>, told{" "}
          {on.told ?? "nobody"} by {on.by}.
        </span>
        <button type="button" className="btn" onClick={() => set({ on_test: null })}>
          Off test, the station confirmed it
        </button>
      </p>
    );
  const start = new Date();
  return (
    <form
      className="flex flex-wrap items-end gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        const until = new Date(start.getTime() + 2 * 3_600_000).toISOString();
        set({ on_test: { until, told: told.trim() } });
      }}
    >
      <label className="grid gap-1 text-small">
        Who at the station was told{watched ? ` (${watched})` : ""}
        <input
          className="box"
          value={told}
          maxLength={200}
          onChange={(event) => setTold(event.target.value)}
        />
      </label>
      <button type="submit" className="btn" disabled={!told.trim()}>
        On test for 2 h
      </button>
    </form>
  );
}

function NetworkBox({ way, set }: { way: Schemas["WayRow"]; set: (network: string) => void }) {
  return (
    <input
      key={way.network}
      className="box w-44"
      aria-label={`Mobile network of ${way.word}`}
      placeholder="mobile network"
      defaultValue={way.network}
      onBlur={(event) => event.target.value.trim() !== way.network && set(event.target.value.trim())}
    />
  );
}

function People({ hub, set }: { hub: Hub; set: (parts: Part) => void }) {
  const [name, setName] = useState("");
  const [rights, setRights] = useState<keyof typeof RIGHTS>("arm");
  const users = hub.users as { name: string; rights: keyof typeof RIGHTS }[];
  return (
    <>
      <h3 className="border-t border-hair pt-2 font-semibold">Users, each with the least rights</h3>
      <ul className="text-small">
        {users.map((item) => (
          <li key={item.name} className="flex items-center justify-between gap-2">
            <span>
              {item.name}, {RIGHTS[item.rights]}
            </span>
            <button
              type="button"
              className="min-h-11 underline underline-offset-4"
              aria-label={`Remove ${item.name}`}
              onClick={() => set({ users: users.filter((one) => one.name !== item.name) })}
            >
              Remove
            </button>
          </li>
        ))}
      </ul>
      <form
        className="flex flex-wrap gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          set({ users: [...users, { name: name.trim(), rights }] });
          setName("");
        }}
      >
        <input
          className="box w-full"
          aria-label="Name of the user"
          placeholder="name"
          value={name}
          maxLength={200}
          onChange={(event) => setName(event.target.value)}
        />
        <select
          className="box"
          aria-label="Rights of the user"
          value={rights}
          onChange={(event) => setRights(event.target.value as keyof typeof RIGHTS)}
        >
          {Object.entries(RIGHTS).map(([key, word]) => (
            <option key={key} value={key}>
              {word}
            </option>
          ))}
        </select>
        <button type="submit" className="btn" disabled={!name.trim()}>
          Add
        </button>
      </form>
    </>
  );
}

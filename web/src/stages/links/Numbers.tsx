import { type FormEvent, useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useChange } from "../../api/site";
import { Trouble } from "../../parts/Feedback";
import { hasAll, wordsOf } from "../../parts/filter";
import { State } from "../../parts/Mark";
import { Problems } from "../../parts/Page";
import { SearchBox } from "../../parts/SearchBox";
import { useTruncated } from "../../parts/useTruncated";
import { RingChain } from "./RingChain";

type Sheet = Schemas["Numbers"];
type NumberRow = Schemas["NumberRow"];
const SOURCES = {
  kept: ["set", "set"],
  planned: ["planned", "planned"],
  missing: ["loose", "none free"],
} as const;

/** The plan of numbers: what each link is called at its target, paging zones, call servers, flats, the ring chain. */
export function Numbers({ data }: { data: Sheet }) {
  return (
    <div className="grid gap-x-8 gap-y-6 pt-3 xl:grid-cols-[minmax(0,1fr)_24rem]">
      <div className="min-w-0">
        <Problems problems={data.problems} />
        <NumberTable rows={data.rows} />
      </div>
      <aside className="grid min-w-0 content-start gap-6" aria-label="Other numbers">
        <RingChain key={data.revision} ring={data.ring} revision={data.revision} />
        {data.flats.length > 0 && <Flats flats={data.flats} />}
        {data.lines.length > 0 && (
          <section aria-label="Call servers">
            <h2 className="border-b border-hair pb-1 font-semibold">Call servers</h2>
            {data.lines.map((line) => (
              <p key={line.server} className={`py-1 text-small ${line.full ? "text-red" : ""}`}>
                {line.sentence}
              </p>
            ))}
          </section>
        )}
        {data.zones.length > 0 && <Zones zones={data.zones} />}
      </aside>
    </div>
  );
}

function NumberTable({ rows }: { rows: NumberRow[] }) {
  const [words, setWords] = useState("");
  const typed = wordsOf(words);
  const hits = rows.filter((row) =>
    hasAll(typed, `${row.target} ${row.device} ${row.word} ${row.number ?? ""}`),
  );
  const [shown, more] = useTruncated(hits, 120);
  let before = "";
  return (
    <section aria-label="Numbers of the links">
      <div className="max-w-72">
        <SearchBox label="Find a number, a device or a target" value={words} search={setWords} />
      </div>
      <table className="mt-3 w-full text-list">
        <thead>
          <tr className="border-b-2 border-ink text-left text-small">
            <th scope="col" className="w-44">
              At
            </th>
            <th scope="col">Number</th>
            <th scope="col">Device</th>
            <th scope="col">State</th>
            <th scope="col" className="max-lg:hidden">
              Why
            </th>
          </tr>
        </thead>
        <tbody>
          {shown.map((row) => {
            const head = `${row.target} ${row.word}`;
            const again = head === before;
            before = head;
            const [mark, word] = SOURCES[row.source];
            return (
              <tr
                key={row.link}
                className={again ? "border-b border-hair" : "border-t border-b border-hair border-t-field"}
              >
                <td className="py-1 pr-2 align-top font-semibold">
                  <span className={again ? "sr-only" : ""}>{row.target}</span>
                </td>
                <td className="pr-2 whitespace-nowrap">
                  <span className="text-ink-2">{row.word}</span>{" "}
                  <b className="font-mono font-semibold">{row.number ?? "–"}</b>
                </td>
                <td className="pr-2">{row.device}</td>
                <td className="pr-2">
                  <State name={mark}>{word}</State>
                </td>
                <td className="text-small text-ink-2 max-lg:hidden">
                  {row.source === "kept" ? "" : row.why}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {hits.length === 0 && <p className="py-4 text-ink-2">No number answers to that.</p>}
      {more}
    </section>
  );
}

function Flats({ flats }: { flats: Schemas["FlatRow"][] }) {
  return (
    <section aria-label="Building, floor and unit">
      <h2 className="border-b border-hair pb-1 font-semibold">Building, floor and unit</h2>
      <p className="py-1 text-small text-ink-2">
        Where a call is dialled to; empty where there is only one house.
      </p>
      <div
        aria-hidden="true"
        className="grid grid-cols-[minmax(0,1fr)_4rem_4rem_4rem] gap-2 text-note text-ink-2"
      >
        <span />
        <span>building</span>
        <span>floor</span>
        <span>unit</span>
      </div>
      <ul>
        {flats.map((flat) => (
          <FlatLine key={`${flat.device} ${flat.revision}`} flat={flat} />
        ))}
      </ul>
    </section>
  );
}

function FlatLine({ flat }: { flat: Schemas["FlatRow"] }) {
  const names = ["building", "floor", "unit"] as const;
  const stood = Object.fromEntries(names.map((name) => [name, String(flat[name] ?? "")]));
  const [typed, setTyped] = useState<Record<string, string>>(stood);
  const change = useChange((key, body: Schemas["FlatChange"]) =>
    ask(
      client.PATCH("/api/sites/{key}/numbers/{device}", {
        params: { path: { key, device: flat.device } },
        body,
      }),
    ),
  );
  const same = names.every((name) => typed[name] === stood[name]);
  function keep(event: FormEvent) {
    event.preventDefault();
    const parts = Object.fromEntries(
      names.map((name) => [name, typed[name]?.trim() ? Number(typed[name]) : null]),
    );
    change.mutate({ revision: flat.revision, ...parts });
  }
  return (
    <li className="border-b border-hair py-1.5">
      <form onSubmit={keep} className="grid grid-cols-[minmax(0,1fr)_4rem_4rem_4rem] items-center gap-2">
        <span className="truncate text-small font-semibold" title={flat.name}>
          {flat.name}
        </span>
        {names.map((name) => (
          <input
            key={name}
            aria-label={`${name} of ${flat.name}`}
            inputMode="numeric"
            className="box min-h-9 max-md:min-h-11 w-full px-1.5 font-mono text-small"
            value={typed[name]}
            onChange={(event) => setTyped({ ...typed, [name]: event.target.value.replace(/[^\d-]/g, "") })}
          />
        ))}
        {!same && (
          <button
            type="submit"
            className="btn col-span-4 min-h-9 max-md:min-h-11 justify-self-end"
            disabled={change.isPending}
          >
            Keep
          </button>
        )}
      </form>
      {change.error && <Trouble error={change.error} />}
    </li>
  );
}

function Zones({ zones }: { zones: Schemas["ZoneRow"][] }) {
  return (
    <section aria-label="Paging zones">
      <h2 className="border-b border-hair pb-1 font-semibold">Paging zones</h2>
      <ul className="text-small">
        {zones.map((zone) => (
          <li key={zone.number} className="border-b border-hair py-1.5">
            <b className="font-semibold">Zone {zone.number}</b>{" "}
            <span className="font-mono">
              {zone.address} port {zone.port}
            </span>
            <span className="block text-ink-2">
              {zone.speakers.join(", ")} → {zone.listeners.join(", ")}
            </span>
            {zone.fault && <span className="block text-red">{zone.fault}.</span>}
          </li>
        ))}
      </ul>
    </section>
  );
}

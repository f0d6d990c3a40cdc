import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Mark } from "../../parts/Mark";
import { slug } from "../../parts/slug";
import { typed } from "../../parts/units";
import { CableForm } from "./CableForm";
import { MainsCaution, Row, type Sheet, type Trial } from "./Loads";

type Supply = Schemas["SupplyRow"];
type Part = Record<string, unknown> & { key: string };
const KINDS = {
  dc: "power supply (direct current)",
  transformer: "transformer",
  ups: "back-up with batteries",
} as const;

/** Power supplies: what hangs on each against what it is rated for, and how long its batteries last. */
export function Supplies({ shown, trial }: { shown: Sheet; trial: Trial }) {
  const [open, setOpen] = useState<string | null>(null);
  const parts = shown.supplies_part as Part[];
  const store = (fresh: Part[]) => trial.change({ supplies: fresh });
  return (
    <Row title="Supplies" detail="with the margin on top">
      {shown.supplies.length > 0 && <MainsCaution />}
      <ul>
        {shown.supplies.map((item) => (
          <li key={item.key} className="border-b border-hair py-2 last:border-0">
            <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
              <b className="font-semibold">{item.name}</b>
              <span className="text-small text-ink-2">
                {item.volts} V {KINDS[item.kind]}
              </span>
              <span className="flex items-center gap-2">
                <Mark
                  name={item.ok === null ? "unread" : item.ok ? "set" : "off"}
                  word={item.ok === null ? "not known" : item.ok ? "fits" : "too much"}
                />
                <span>
                  <b>
                    {item.load.toFixed(1)} {item.unit}
                  </b>{" "}
                  {item.rated === null
                    ? "; what it is rated for is not known"
                    : `of ${item.rated} ${item.unit}`}
                </span>
              </span>
              {item.kind === "ups" && <Lasts item={item} />}
            </div>
            <div className="flex flex-wrap items-center gap-x-4">
              <p className="text-small text-ink-2">
                {item.hangs.length
                  ? `Feeds ${item.hangs.slice(0, 8).join(", ")}${item.hangs.length > 8 ? ` and ${item.hangs.length - 8} more` : ""}.`
                  : "Nothing hangs on it."}
              </p>
              <span className="ml-auto flex gap-4 text-small">
                <button
                  type="button"
                  className="min-h-11 underline underline-offset-4"
                  onClick={() => setOpen(open === item.key ? null : item.key)}
                >
                  Change
                </button>
                <button
                  type="button"
                  className="min-h-11 underline underline-offset-4"
                  onClick={() => setOpen(open === `${item.key} cable` ? null : `${item.key} cable`)}
                >
                  Hang a device on it
                </button>
              </span>
            </div>
            {open === item.key && (
              <SupplyForm
                part={parts.find((one) => one.key === item.key)}
                taken={parts}
                used={item.hangs.length > 0}
                close={() => setOpen(null)}
                store={(fresh) => store(parts.map((one) => (one.key === item.key ? fresh : one)))}
                remove={() => store(parts.filter((one) => one.key !== item.key))}
              />
            )}
            {open === `${item.key} cable` && (
              <CableForm supply={item.key} shown={shown} trial={trial} close={() => setOpen(null)} />
            )}
          </li>
        ))}
      </ul>
      {open === "new" ? (
        <SupplyForm
          taken={parts}
          close={() => setOpen(null)}
          store={(fresh) => store([...parts, fresh])}
          used={false}
        />
      ) : (
        <button
          type="button"
          className="min-h-11 underline underline-offset-4"
          onClick={() => setOpen("new")}
        >
          Add a supply
        </button>
      )}
    </Row>
  );
}

function Lasts({ item }: { item: Supply }) {
  if (item.minutes === null) return <span className="text-small">No battery is known.</span>;
  const short = item.wanted_min !== null && item.minutes < item.wanted_min;
  return (
    <span className="flex items-center gap-2">
      {item.wanted_min !== null && (
        <Mark name={short ? "off" : "set"} word={short ? "too short" : "long enough"} />
      )}
      <span>
        lasts <b>{Math.floor(item.minutes)} min</b>
        {item.wanted_min !== null && ` of ${item.wanted_min}`}
        {short && item.needed_ah !== null && (
          <b className="text-brass"> {item.needed_ah.toFixed(1)} Ah are needed</b>
        )}
      </span>
    </span>
  );
}

function SupplyForm({
  part,
  taken,
  used,
  close,
  store,
  remove,
}: {
  part?: Part | undefined;
  taken: Part[];
  used: boolean;
  close: () => void;
  store: (fresh: Part) => void;
  remove?: () => void;
}) {
  const battery = (part?.battery ?? {}) as Record<string, number>;
  const text = (value: unknown) => (value === null || value === undefined ? "" : String(value));
  const [name, setName] = useState(text(part?.name ?? part?.key));
  const [kind, setKind] = useState<keyof typeof KINDS>((part?.kind as keyof typeof KINDS) ?? "dc");
  const [volts, setVolts] = useState(text(part?.volts ?? 12));
  const [rated, setRated] = useState(text(part?.rated_w ?? part?.rated_va));
  const [wanted, setWanted] = useState(text(part?.wanted_min));
  const [cell, setCell] = useState({
    volts: text(battery.volts ?? 12),
    ah: text(battery.ah),
    count: text(battery.count ?? 1),
  });
  const wrong = !name.trim()
    ? "Give the supply a name that people use."
    : !typed(volts)
      ? `“${volts}” is no voltage.`
      : rated.trim() && typed(rated) === null
        ? `“${rated}” is no rating.`
        : cell.ah.trim() && (!typed(cell.ah) || !typed(cell.volts) || !Number.isInteger(typed(cell.count)))
          ? "A battery needs volts, ampere hours and a whole number of them."
          : null;
  function submit() {
    if (wrong) return;
    const base = slug(name) || "supply";
    let key = part?.key ?? base;
    for (let number = 2; !part && taken.some((item) => item.key === key); number += 1)
      key = `${base}-${number}`;
    const { depth, efficiency } = battery;
    store({
      key,
      name: name.trim(),
      kind,
      volts: typed(volts),
      ...(typed(rated) === null ? {} : { [kind === "transformer" ? "rated_va" : "rated_w"]: typed(rated) }),
      ...(kind === "ups" && typed(wanted) !== null ? { wanted_min: typed(wanted) } : {}),
      ...(kind === "ups" && cell.ah.trim()
        ? {
            battery: {
              volts: typed(cell.volts),
              ah: typed(cell.ah),
              count: typed(cell.count),
              ...(depth === undefined ? {} : { depth }),
              ...(efficiency === undefined ? {} : { efficiency }),
            },
          }
        : {}),
    });
    close();
  }
  return (
    <form
      className="flex flex-wrap items-end gap-3 border-t border-hair py-3"
      aria-label={part ? `Change ${name}` : "New supply"}
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      <label className="grid gap-0.5 text-cell">
        name
        <input
          className="box w-48"
          value={name}
          maxLength={200}
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      <label className="grid gap-0.5 text-cell">
        kind
        <select
          className="box"
          value={kind}
          onChange={(event) => setKind(event.target.value as keyof typeof KINDS)}
        >
          {Object.entries(KINDS).map(([key, word]) => (
            <option key={key} value={key}>
              {word}
            </option>
          ))}
        </select>
      </label>
      <Figure label="volts" value={volts} set={setVolts} />
      <Figure label={kind === "transformer" ? "rated, VA" : "rated, W"} value={rated} set={setRated} />
      {kind === "ups" && (
        <>
          <Figure label="has to last, min" value={wanted} set={setWanted} />
          <Figure label="a battery, V" value={cell.volts} set={(volts) => setCell({ ...cell, volts })} />
          <Figure label="a battery, Ah" value={cell.ah} set={(ah) => setCell({ ...cell, ah })} />
          <Figure label="in series" value={cell.count} set={(count) => setCell({ ...cell, count })} />
        </>
      )}
      <button type="submit" className="btn" disabled={wrong !== null}>
        {part ? "Reckon with it" : "Add it"}
      </button>
      {remove && (
        <button
          type="button"
          className="btn"
          disabled={used}
          title={used ? "Devices still hang on it" : undefined}
          onClick={() => {
            remove();
            close();
          }}
        >
          Remove it
        </button>
      )}
      <button type="button" className="min-h-11 px-2 underline underline-offset-4" onClick={close}>
        Close
      </button>
      {wrong && (
        <p role="alert" className="basis-full text-small font-semibold text-red">
          {wrong}
        </p>
      )}
    </form>
  );
}

function Figure({ label, value, set }: { label: string; value: string; set: (text: string) => void }) {
  return (
    <label className="grid gap-0.5 text-cell">
      {label}
      <input
        className="box w-24 font-mono"
        inputMode="decimal"
        value={value}
        onChange={(event) => set(event.target.value)}
      />
    </label>
  );
}

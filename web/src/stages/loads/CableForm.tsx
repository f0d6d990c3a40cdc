import { useState } from "react";
import type { Schemas } from "../../api/client";
import { DeviceChoice } from "../../parts/DeviceChoice";
import { lengthUnit, shownLength, typed, typedLength } from "../../parts/units";
import type { Sheet, Trial } from "./Loads";

type Kind = "mm2" | "awg" | "lead";
const AREAS = [0.5, 0.75, 1, 1.5, 2.5, 4, 6, 10];
const GAUGES = [22, 20, 18, 16, 14, 12, 10];

/** The low-voltage cable of a device: which supply feeds it, how far, through what. */
export function CableForm({
  device,
  cable,
  supply,
  shown,
  trial,
  close,
}: {
  device?: string;
  cable?: Schemas["SupplyCable"];
  supply?: string;
  shown: Sheet;
  trial: Trial;
  close: () => void;
}) {
  const imperial = shown.units === "imperial";
  const [which, setWhich] = useState(device ?? "");
  const [from, setFrom] = useState(cable?.supply ?? supply ?? shown.supplies[0]?.key ?? "");
  const [metres, setMetres] = useState(shownLength(cable?.length_m, shown.units));
  const [kind, setKind] = useState<Kind>(
    cable ? (cable.awg !== null ? "awg" : "mm2") : imperial ? "awg" : "mm2",
  );
  const [thick, setThick] = useState(String(cable?.awg ?? cable?.mm2 ?? (imperial ? 18 : 1)));
  const [celsius, setCelsius] = useState(String(cable?.celsius ?? 20));
  const long = typedLength(metres, shown.units);
  const size = typed(thick);
  const degrees = Number(celsius.replace(",", "."));
  const wrong =
    which === ""
      ? "Choose a device."
      : kind !== "lead" && long === null
        ? `“${metres}” is no length; ${imperial ? "feet" : "metres"} one way are expected, like 30.`
        : kind !== "lead" && !size
          ? `“${thick}” is no size of a cable.`
          : !Number.isFinite(degrees)
            ? `“${celsius}” is no temperature in °C.`
            : null;
  const sizes = kind === "awg" ? GAUGES : AREAS;
  const own = size !== null && sizes.includes(size) ? sizes : [...sizes, ...(size === null ? [] : [size])];
  return (
    <form
      className="flex flex-wrap items-end gap-3 border-t border-hair py-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (wrong) return;
        const fed =
          kind === "lead"
            ? { supply: from }
            : {
                supply: from,
                m: long,
                celsius: degrees,
                ...(kind === "awg" ? { awg: size } : { mm2: size }),
              };
        trial.changeDevice(which, { fed });
        close();
      }}
    >
      {!device && <DeviceChoice devices={shown.devices} value={which} set={setWhich} />}
      <label className="grid gap-0.5 text-cell">
        fed by
        <select className="box max-w-48" value={from} onChange={(event) => setFrom(event.target.value)}>
          {shown.supplies.map((item) => (
            <option key={item.key} value={item.key}>
              {item.name}
            </option>
          ))}
        </select>
      </label>
      <label className="grid gap-0.5 text-cell">
        through
        <select
          className="box"
          value={kind}
          onChange={(event) => {
            const next = event.target.value as Kind;
            setKind(next);
            setThick(next === "awg" ? "18" : "1");
          }}
        >
          <option value="mm2">a cable, mm²</option>
          <option value="awg">a cable, AWG</option>
          <option value="lead">its own lead</option>
        </select>
      </label>
      {kind !== "lead" && (
        <>
          <label className="grid gap-0.5 text-cell">
            {kind === "awg" ? "gauge, AWG" : "area, mm²"}
            <select className="box" value={thick} onChange={(event) => setThick(event.target.value)}>
              {own.map((item) => (
                <option key={item} value={item}>
                  {item}
                </option>
              ))}
            </select>
          </label>
          <label className="grid gap-0.5 text-cell">
            one way, {lengthUnit(shown.units)}
            <input
              className="box w-24 font-mono"
              inputMode="decimal"
              value={metres}
              onChange={(event) => setMetres(event.target.value)}
            />
          </label>
          <label className="grid gap-0.5 text-cell">
            °C around it
            <input
              className="box w-20 font-mono"
              inputMode="decimal"
              value={celsius}
              onChange={(event) => setCelsius(event.target.value)}
            />
          </label>
        </>
      )}
      <button type="submit" className="btn" disabled={wrong !== null}>
        Reckon with it
      </button>
      {device && (
        <button
          type="button"
          className="btn"
          onClick={() => {
            trial.changeDevice(device, { fed: null });
            close();
          }}
        >
          Take it away
        </button>
      )}
      <button type="button" className="min-h-11 px-2 underline underline-offset-4" onClick={close}>
        Close
      </button>
      {wrong && metres !== "" && (
        <p role="alert" className="basis-full text-small font-semibold text-red">
          {wrong}
        </p>
      )}
    </form>
  );
}

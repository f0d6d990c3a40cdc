import { useState } from "react";
import { Caution } from "../../parts/Caution";
import { DeviceChoice } from "../../parts/DeviceChoice";
import { Mark } from "../../parts/Mark";
import { length, lengthUnit, shownLength, typed, typedLength } from "../../parts/units";
import { Row, type Sheet, type Trial } from "./Loads";

/** Earth conductors as they were found, against what the unit's own sheet asks for. */
export function Earths({ shown, trial }: { shown: Sheet; trial: Trial }) {
  const [open, setOpen] = useState<string | null>(null);
  return (
    <Row title="Earthing" detail="against the unit’s own sheet">
      {(shown.earths.length > 0 || open !== null) && <Caution>{shown.earth_caution}</Caution>}
      <ul>
        {shown.earths.map((item) => (
          <li key={item.device} className="flex flex-wrap items-center gap-x-3 border-b border-hair py-1">
            <Mark name={item.findings.length ? "off" : item.compared ? "set" : "unread"} />
            <b className="font-semibold">{item.name}</b>
            <span className="text-small">
              {item.findings.length
                ? `${item.findings.join("; ")}.`
                : item.compared
                  ? `${item.mm2 ?? "–"} mm², ${item.m === null ? "–" : length(item.m, shown.units)}: as its sheet asks.`
                  : "Not compared yet: both the conductor and the sheet are needed."}
            </span>
            <button
              type="button"
              className="ml-auto min-h-11 text-small underline underline-offset-4"
              onClick={() => setOpen(item.device)}
            >
              Change
            </button>
          </li>
        ))}
      </ul>
      {open === null ? (
        <button type="button" className="min-h-11 underline underline-offset-4" onClick={() => setOpen("")}>
          Write down an earth conductor
        </button>
      ) : (
        <EarthForm key={open} device={open} shown={shown} trial={trial} close={() => setOpen(null)} />
      )}
    </Row>
  );
}

function EarthForm({
  device,
  shown,
  trial,
  close,
}: {
  device: string;
  shown: Sheet;
  trial: Trial;
  close: () => void;
}) {
  const known = shown.earths.find((item) => item.device === device);
  const [which, setWhich] = useState(device);
  const [fields, setFields] = useState({
    mm2: String(known?.mm2 ?? ""),
    m: shownLength(known?.m, shown.units),
    least_mm2: String(known?.least_mm2 ?? ""),
    most_m: shownLength(known?.most_m, shown.units),
  });
  const unit = lengthUnit(shown.units);
  const labels = {
    mm2: "found, mm²",
    m: `found, ${unit}`,
    least_mm2: "sheet: at least, mm²",
    most_m: `sheet: at most, ${unit}`,
  };
  const read = (name: keyof typeof fields) =>
    name === "m" || name === "most_m" ? typedLength(fields[name], shown.units) : typed(fields[name]);
  const names = Object.keys(fields) as (keyof typeof fields)[];
  const strange = names.find((name) => fields[name].trim() !== "" && read(name) === null);
  return (
    <form
      className="flex flex-wrap items-end gap-3 py-3"
      aria-label="Earth conductor"
      onSubmit={(event) => {
        event.preventDefault();
        if (!which || strange) return;
        const said = Object.fromEntries(
          names.map((name) => [name, read(name)]).filter(([, value]) => value !== null),
        );
        trial.changeDevice(which, { "x-earth": Object.keys(said).length ? said : null });
        close();
      }}
    >
      {!device && <DeviceChoice devices={shown.devices} value={which} set={setWhich} />}
      {names.map((name) => (
        <label key={name} className="grid gap-0.5 text-cell">
          {labels[name]}
          <input
            className="box w-28 font-mono"
            inputMode="decimal"
            value={fields[name]}
            onChange={(event) => setFields({ ...fields, [name]: event.target.value })}
          />
        </label>
      ))}
      <button type="submit" className="btn" disabled={!which || strange !== undefined}>
        Compare
      </button>
      <button type="button" className="min-h-11 px-2 underline underline-offset-4" onClick={close}>
        Close
      </button>
      {strange && (
        <p role="alert" className="basis-full text-small font-semibold text-red">
          “{fields[strange]}” is no number ({labels[strange]}).
        </p>
      )}
    </form>
  );
}

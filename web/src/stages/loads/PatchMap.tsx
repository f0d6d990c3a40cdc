import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Empty } from "../../parts/Feedback";
import { Forms } from "../../parts/Files";
import { Mark, type MarkName } from "../../parts/Mark";
import type { Sheet, Trial } from "./Loads";

type Switch = Schemas["SwitchLoad"];
type Plug = Schemas["PlugRow"];
const ROLES = { powers: "fed and data", data: "data only", uplink: "uplink" } as const;
const MARKS: [MarkName, string][] = [
  ["set", "fed over the cable"],
  ["planned", "data only"],
  ["gateway", "uplink of another switch"],
  ["clash", "does not belong there"],
];
const CAMERA = new Set(["camera", "encoder", "other"]);

/** Which plug is in which port of every switch and recorder, to be changed here and printed as labels. */
export function PatchMap({ shown, trial }: { shown: Sheet; trial: Trial }) {
  const racks = shown.switches;
  if (racks.length === 0)
    return (
      <Empty title="Nothing has ports yet">
        Switches and recorders with ports stand here once they are in the kit.
      </Empty>
    );
  return (
    <div className="grid gap-6 pt-2">
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1 text-small">
        <ul className="flex flex-wrap gap-x-5" aria-label="What the marks show">
          {MARKS.map(([mark, word]) => (
            <li key={mark} className="flex items-center gap-1.5">
              <Mark name={mark} size={14} /> {word}
            </li>
          ))}
        </ul>
        <span className="flex items-center gap-2 lg:ml-auto">
          Label strips <Forms name="ports" title="Port labels" endings={["pdf", "csv", "xlsx"]} />
        </span>
      </div>
      {racks.map((item) => (
        <Rack key={item.key} item={item} shown={shown} trial={trial} />
      ))}
    </div>
  );
}

function Rack({ item, shown, trial }: { item: Switch; shown: Sheet; trial: Trial }) {
  const [open, setOpen] = useState<number | null>(null);
  const numbered = new Map<number, Plug[]>();
  for (const plug of item.plugs)
    if (plug.port !== null) numbered.set(plug.port, [...(numbered.get(plug.port) ?? []), plug]);
  const ports = Math.max(item.ports ?? 0, ...numbered.keys());
  const loose = item.plugs.filter((plug) => plug.port === null);
  const chosen = open === null ? [] : (numbered.get(open) ?? []);
  return (
    <section aria-label={item.name}>
      <div className="flex flex-wrap items-baseline gap-x-4 border-b-2 border-ink">
        <h2 className="py-1 font-semibold">{item.name}</h2>
        <span className="text-small text-ink-2">
          {item.ports_used} of {item.ports ?? "?"} ports{item.uplink ? `, uplink to ${item.uplink}` : ""}
        </span>
      </div>
      <ul className="grid grid-cols-2 gap-1 pt-2 sm:grid-cols-4 lg:grid-cols-8 xl:grid-cols-[repeat(13,minmax(0,1fr))]">
        {Array.from({ length: ports }, (_, at) => {
          const port = at + 1;
          const plugs = numbered.get(port) ?? [];
          const [plug] = plugs;
          const beyond = item.ports !== null && port > item.ports;
          const strange = plug !== undefined && item.family.includes("recorder") && !CAMERA.has(plug.family);
          return (
            <li key={port}>
              <button
                type="button"
                aria-pressed={open === port}
                aria-label={`Port ${port}: ${plugs.map((one) => `${one.name}, ${ROLES[one.role]}`).join(" and ") || "empty"}`}
                className={`flex h-16 w-full flex-col border p-1 text-cell ${open === port ? "border-2 border-ink" : plug ? "border-field bg-sheet" : "border-dashed border-hair text-ink-2"}`}
                onClick={() => setOpen(open === port ? null : port)}
              >
                <span className="flex w-full items-center justify-between font-mono font-semibold">
                  {port}
                  {plugs.length > 1 || beyond || strange ? (
                    <Mark name="clash" size={12} />
                  ) : plug ? (
                    <Mark
                      name={plug.role === "uplink" ? "gateway" : plug.role === "powers" ? "set" : "planned"}
                      size={12}
                    />
                  ) : null}
                </span>
                <span
                  className="line-clamp-2 w-full leading-4"
                  title={plugs.map((one) => one.name).join(", ")}
                >
                  {plugs.map((one) => one.name).join(", ") || "empty"}
                </span>
              </button>
            </li>
          );
        })}
      </ul>
      {item.family.includes("recorder") && (
        <p className="text-small">Its own ports are for cameras: no laptop, desk or switch goes into one.</p>
      )}
      {loose.length > 0 && (
        <p className="text-small">In it, port not said: {loose.map((plug) => plug.name).join(", ")}.</p>
      )}
      {open !== null && (
        <PortEditor
          key={open}
          item={item}
          port={open}
          plugs={chosen}
          shown={shown}
          trial={trial}
          close={() => setOpen(null)}
        />
      )}
    </section>
  );
}

function PortEditor({
  item,
  port,
  plugs,
  shown,
  trial,
  close,
}: {
  item: Switch;
  port: number;
  plugs: Plug[];
  shown: Sheet;
  trial: Trial;
  close: () => void;
}) {
  const [device, setDevice] = useState("");
  const [feeds, setFeeds] = useState(item.budget_w !== null);
  const end = { device: item.key, port };
  return (
    <div className="mt-2 flex flex-wrap items-end gap-3 border border-hair border-t-[3px] border-t-ink bg-sheet p-3">
      <b className="flex min-h-11 items-center">Port {port}</b>
      {plugs.map((plug) => (
        <button
          key={plug.device}
          type="button"
          className="btn"
          onClick={() => {
            trial.changeDevice(
              plug.device,
              plug.role === "powers" ? { powered_by: null } : { plugged_into: null },
            );
            close();
          }}
        >
          Pull {plug.name}
        </button>
      ))}
      <label className="grid gap-0.5 text-cell">
        plug in
        <select className="box max-w-64" value={device} onChange={(event) => setDevice(event.target.value)}>
          <option value="">choose …</option>
          {shown.devices
            .filter((one) => one.value !== item.key)
            .map((one) => (
              <option key={one.value} value={one.value}>
                {one.word}
              </option>
            ))}
        </select>
      </label>
      <label className="flex min-h-11 items-center gap-2 text-small">
        <input
          type="checkbox"
          checked={feeds}
          disabled={item.budget_w === null}
          onChange={(event) => setFeeds(event.target.checked)}
        />
        it is fed over this cable
      </label>
      <button
        type="button"
        className="btn"
        disabled={device === ""}
        onClick={() => {
          trial.changeDevice(device, feeds ? { powered_by: end, plugged_into: null } : { plugged_into: end });
          close();
        }}
      >
        Plug it in
      </button>
      <button type="button" className="ml-auto min-h-11 px-2 underline underline-offset-4" onClick={close}>
        Close
      </button>
    </div>
  );
}

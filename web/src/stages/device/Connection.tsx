import { type FormEvent, useState } from "react";
import type { Schemas } from "../../api/client";
import { useFrame } from "../../api/site";
import { Trouble } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";
import { lengthToSend, lengthUnit, shownLength } from "../../parts/units";
import { useDeviceChange } from "../../parts/useDeviceChange";

type Sheet = Schemas["DevicePage"];
const MEDIA: [Sheet["medium"], string][] = [
  ["cable", "network cable"],
  ["wifi", "Wi-Fi"],
  ["mains-borne", "the mains (power line)"],
  ["mobile", "a mobile connection"],
];
const PLACES: [string, string][] = [
  ["", "not known yet"],
  ["in", "indoors"],
  ["out", "outdoors"],
];

/** By which medium a device reaches its network, under which hardware address there, where it stands, what feeds it. */
export function Connection({ data }: { data: Sheet }) {
  const stands = data.outdoors === null ? "" : data.outdoors ? "out" : "in";
  const units = useFrame().data?.units ?? "metric";
  const [medium, setMedium] = useState(data.medium);
  const [mac, setMac] = useState(data.wifi_mac ?? "");
  const [place, setPlace] = useState(stands);
  const [feeder, setFeeder] = useState(data.feeder ?? "");
  const [port, setPort] = useState(String(data.feeder_port ?? ""));
  const [metres, setMetres] = useState(shownLength(data.cable_m, units));
  const change = useDeviceChange();
  const fed =
    feeder !== (data.feeder ?? "") || (feeder !== "" && port.trim() !== String(data.feeder_port ?? ""));
  const long = metres.trim() !== shownLength(data.cable_m, units);
  const changed =
    medium !== data.medium || mac.trim() !== (data.wifi_mac ?? "") || place !== stands || fed || long;
  function submit(event: FormEvent) {
    event.preventDefault();
    change.mutate({
      device: data.key,
      revision: data.revision,
      medium,
      wifi_mac: mac.trim() || null,
      outdoors: place === "" ? null : place === "out",
      ...(fed && { feeder: feeder || null, feeder_port: ((feeder && port.trim()) || null) as number | null }),
      ...(long && { cable_m: lengthToSend(metres, units) as number | null }),
    });
  }
  return (
    <section aria-label="How it is connected">
      <h2 className="border-b border-hair pb-1 font-semibold">How it is connected</h2>
      <form onSubmit={submit} className="grid gap-2 pt-2 text-small">
        <label className="grid gap-1">
          By
          <select
            className="box"
            value={medium}
            onChange={(event) => setMedium(event.target.value as Sheet["medium"])}
          >
            {MEDIA.map(([value, word]) => (
              <option key={value} value={value}>
                {word}
              </option>
            ))}
          </select>
        </label>
        {(medium === "wifi" || data.wifi_mac) && (
          <>
            <label className="grid gap-1">
              Hardware address on Wi-Fi
              <input
                className="box font-mono"
                spellCheck={false}
                placeholder="02:1a:4b:00:00:01"
                value={mac}
                onChange={(event) => setMac(event.target.value)}
              />
            </label>
            {medium === "wifi" && (
              <p className="flex items-start gap-2 text-ink-2">
                <Mark name="off" /> It has another one there than at its cable: reservations and the request
                take this one. Prove it with the cable pulled out.
              </p>
            )}
          </>
        )}
        <label className="grid gap-1">
          Stands
          <select className="box" value={place} onChange={(event) => setPlace(event.target.value)}>
            {PLACES.map(([value, word]) => (
              <option key={value} value={value}>
                {word}
              </option>
            ))}
          </select>
        </label>
        {medium === "cable" && (
          <>
            <label className="grid gap-1">
              Powered over its cable by
              <select className="box" value={feeder} onChange={(event) => setFeeder(event.target.value)}>
                <option value="">not known, or its own power supply</option>
                {data.feeders.map((option) => (
                  <option key={option.value} value={option.value}>
                    {option.word}
                  </option>
                ))}
              </select>
            </label>
            <div className="grid grid-cols-2 gap-3">
              <label className="grid min-w-0 gap-1">
                Port there
                <input
                  className="box w-full font-mono"
                  inputMode="numeric"
                  disabled={!feeder}
                  value={feeder ? port : ""}
                  onChange={(event) => setPort(event.target.value)}
                />
              </label>
              <label className="grid min-w-0 gap-1">
                Cable length, {lengthUnit(units)}
                <input
                  className="box w-full font-mono"
                  inputMode="decimal"
                  value={metres}
                  onChange={(event) => setMetres(event.target.value)}
                />
              </label>
            </div>
          </>
        )}
        {changed && (
          <button type="submit" className="btn justify-self-start" disabled={change.isPending}>
            Save
          </button>
        )}
        {change.error && <Trouble error={change.error} />}
      </form>
    </section>
  );
}

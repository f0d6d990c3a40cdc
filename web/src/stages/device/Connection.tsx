import { type FormEvent, useState } from "react";
import type { Schemas } from "../../api/client";
import { Trouble } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";
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

/** By which medium a device reaches its network, under which hardware address there, and where it stands. */
export function Connection({ data }: { data: Sheet }) {
  const stands = data.outdoors === null ? "" : data.outdoors ? "out" : "in";
  const [medium, setMedium] = useState(data.medium);
  const [mac, setMac] = useState(data.wifi_mac ?? "");
  const [place, setPlace] = useState(stands);
  const change = useDeviceChange();
  const changed = medium !== data.medium || mac.trim() !== (data.wifi_mac ?? "") || place !== stands;
  function submit(event: FormEvent) {
    event.preventDefault();
    change.mutate({
      device: data.key,
      revision: data.revision,
      medium,
      wifi_mac: mac.trim() || null,
      outdoors: place === "" ? null : place === "out",
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
        {changed && (
          <button type="submit" className="btn justify-self-start" disabled={change.isPending}>
            Keep it
          </button>
        )}
        {change.error && <Trouble error={change.error} />}
      </form>
    </section>
  );
}

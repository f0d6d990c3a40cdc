import type { Schemas } from "../api/client";

/** One device of the site, by its name. */
export function DeviceChoice({
  devices,
  value,
  set,
}: {
  devices: Schemas["Option"][];
  value: string;
  set: (device: string) => void;
}) {
  return (
    <label className="grid gap-0.5 text-cell">
      device
      <select className="box max-w-56" value={value} onChange={(event) => set(event.target.value)}>
        <option value="">choose …</option>
        {devices.map((item) => (
          <option key={item.value} value={item.value}>
            {item.word}
          </option>
        ))}
      </select>
    </label>
  );
}

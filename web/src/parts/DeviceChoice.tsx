import type { Schemas } from "../api/client";
import { Choice } from "./Choice";

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
  return <Choice label="device" options={devices} value={value} set={set} none="choose …" box="max-w-56" />;
}

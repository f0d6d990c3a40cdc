import { ask, client, type Schemas } from "../api/client";
import { useChange } from "../api/site";

type Changes = Schemas["DeviceChange"] & { device: string };

/** Change keys of one device, based on the revision that is shown. */
export function useDeviceChange() {
  return useChange((key, { device, ...body }: Changes) =>
    ask(client.PATCH("/api/sites/{key}/devices/{device}", { params: { path: { key, device } }, body })),
  );
}

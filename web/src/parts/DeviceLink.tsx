import { Link } from "react-router";
import { useSiteKey } from "../api/site";

/** A device's name that leads to its page. */
export function DeviceLink({ device, children }: { device: string; children: React.ReactNode }) {
  return <Link to={`/sites/${useSiteKey()}/devices/${device}`}>{children}</Link>;
}

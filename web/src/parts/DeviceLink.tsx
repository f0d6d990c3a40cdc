import { Link } from "react-router";
import { useSiteKey } from "../api/site";

/** A device's name that leads to its page. */
export function DeviceLink({ device, children }: { device: string; children: React.ReactNode }) {
  return (
    <Link
      to={`/sites/${useSiteKey()}/devices/${device}`}
      className="max-md:inline-flex max-md:min-h-11 max-md:min-w-11 max-md:items-center"
    >
      {children}
    </Link>
  );
}

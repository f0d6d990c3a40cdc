import { useSearchParams } from "react-router";
import { PartTabs } from "../../parts/PartTabs";

const PARTS = { devices: "Devices", loads: "Will it fit?", ports: "Ports" } as const;

/** The parts of the kit: its devices, whether all of it fits, and which plug is where. */
export function KitParts({ part }: { part: keyof typeof PARTS }) {
  const [, setSearch] = useSearchParams();
  return (
    <PartTabs
      label="Parts of the kit"
      parts={PARTS}
      part={part}
      show={(name) => setSearch(name === "devices" ? {} : { part: name }, { replace: true })}
    />
  );
}

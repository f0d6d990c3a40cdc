import { useSearchParams } from "react-router";

const PARTS = { devices: "Devices", loads: "Will it fit?", ports: "Ports" } as const;
export type KitPart = keyof typeof PARTS;

/** The parts of the kit: its devices, whether all of it fits, and which plug is where. */
export function KitParts({ part }: { part: KitPart }) {
  const [, setSearch] = useSearchParams();
  return (
    <nav aria-label="Parts of the kit">
      <ul className="flex">
        {(Object.keys(PARTS) as KitPart[]).map((name) => (
          <li key={name}>
            <button
              type="button"
              aria-current={name === part ? "page" : undefined}
              className={`min-h-11 px-3 whitespace-nowrap ${name === part ? "border-b-4 border-kelp font-bold" : "font-medium underline underline-offset-4"}`}
              onClick={() => setSearch(name === "devices" ? {} : { part: name }, { replace: true })}
            >
              {PARTS[name]}
            </button>
          </li>
        ))}
      </ul>
    </nav>
  );
}

import type { Schemas } from "../../api/client";
import { length, size, type Units } from "../../parts/units";

type Cable = Schemas["SupplyCable"];
const [LEFT, RIGHT, TOP, BOTTOM] = [64, 536, 20, 132];

/** Volts along a supply cable: what leaves, what arrives, and the least that the device needs. */
export function VoltLine({ cable, units }: { cable: Cable; units: Units }) {
  const better = cable.ok === false ? cable.sizes.find((item) => item.ok) : undefined;
  const floor = cable.min_v ?? Math.min(cable.volts ?? cable.supply_v, cable.supply_v) * 0.9;
  const ends = [cable.volts, better?.volts].filter((item): item is number => item != null);
  const low = Math.min(floor, ...ends);
  const span = Math.max(cable.supply_v - low, 0.1) * 1.25;
  const x = (metres: number) =>
    LEFT + (cable.length_m ? (metres / (cable.length_m * 1.09)) * (RIGHT - LEFT) : 0);
  const y = (volts: number) => TOP + ((cable.supply_v - volts) / span) * (BOTTOM - TOP);
  const end = x(cable.length_m);
  const fails = cable.volts !== null && cable.min_v !== null && cable.volts < cable.min_v;
  const crossing =
    fails && cable.volts !== null && cable.min_v !== null
      ? (cable.length_m * (cable.supply_v - cable.min_v)) / (cable.supply_v - cable.volts)
      : null;
  const said = `${cable.name}: ${cable.supply_v} V leave ${cable.supply_name}, ${
    cable.volts === null ? "it does not run" : `${cable.volts.toFixed(2)} V arrive`
  }${cable.min_v === null ? "" : `, ${cable.min_v} V are needed`}`;
  const ticks = Array.from({ length: 6 }, (_, at) => (cable.length_m / 5) * at);
  return (
    <svg viewBox="0 0 600 164" className="block w-full max-w-150 text-note" role="img" aria-label={said}>
      {cable.min_v !== null && (
        <>
          <rect
            x={LEFT}
            y={y(cable.min_v)}
            width={RIGHT - LEFT}
            height={Math.max(BOTTOM - y(cable.min_v), 0)}
            className="fill-wash"
          />
          <path d={`M${LEFT} ${y(cable.min_v)}H${RIGHT}`} className="stroke-ink" strokeWidth="2.5" />
          <text x={LEFT - 6} y={y(cable.min_v) + 4} textAnchor="end" className="fill-ink font-mono text-cell">
            {cable.min_v.toFixed(1)} V
          </text>
          <text x={LEFT + 6} y={y(cable.min_v) + 14} className="fill-ink text-cell">
            least that it needs
          </text>
        </>
      )}
      <text x={LEFT - 6} y={TOP + 4} textAnchor="end" className="fill-ink font-mono text-cell">
        {cable.supply_v.toFixed(1)} V
      </text>
      <path d={`M${LEFT} ${BOTTOM}H${RIGHT}`} className="stroke-ink" />
      {ticks.map((metres) => (
        <g key={metres}>
          <path d={`M${x(metres)} ${BOTTOM}v5`} className="stroke-ink" />
          <text
            x={x(metres)}
            y={BOTTOM + 18}
            textAnchor={metres === 0 ? "start" : "middle"}
            className="fill-ink-2 font-mono text-cell"
          >
            {length(metres, units)}
          </text>
        </g>
      ))}
      {better?.volts != null && (
        <>
          <path
            d={`M${LEFT} ${TOP}L${end} ${y(better.volts)}`}
            className="stroke-kelp"
            strokeWidth="2"
            strokeDasharray="6 4"
            fill="none"
          />
          <rect
            x={end - 4}
            y={y(better.volts) - 4}
            width="8"
            height="8"
            className="fill-paper stroke-kelp"
            strokeWidth="2"
          />
        </>
      )}
      {cable.volts !== null && (
        <>
          <path
            d={`M${LEFT} ${TOP}L${crossing !== null && cable.min_v !== null ? `${x(crossing)} ${y(cable.min_v)}` : `${end} ${y(cable.volts)}`}`}
            className="stroke-slate"
            strokeWidth="2.5"
            fill="none"
          />
          {crossing !== null && cable.min_v !== null && (
            <>
              <path
                d={`M${x(crossing)} ${y(cable.min_v)}L${end} ${y(cable.volts)}`}
                className="stroke-brass-fill"
                strokeWidth="3"
                fill="none"
              />
              <text x={x(crossing)} y={BOTTOM - 5} textAnchor="end" className="fill-brass font-semibold">
                {length(crossing, units)}
              </text>
            </>
          )}
          <rect
            x={end - 4}
            y={y(cable.volts) - 4}
            width="8"
            height="8"
            className={`fill-paper ${fails ? "stroke-brass-fill" : "stroke-slate"}`}
            strokeWidth="2"
          />
        </>
      )}
      {cable.volts === null && (
        <text x={LEFT + 120} y={TOP + 40} className="fill-red font-semibold">
          {cable.ok === null ? "What it draws is not known." : "It cannot run at the end of this cable."}
        </text>
      )}
    </svg>
  );
}

/** What a cable brings, in words. */
export function cableWords(cable: Cable): string {
  const what = size(cable.mm2, cable.awg);
  if (cable.ok === null) return `${what}: what it draws is not known`;
  if (cable.volts === null) return `${what} does not run it`;
  const missing =
    cable.min_v !== null && cable.volts < cable.min_v
      ? `, ${(cable.min_v - cable.volts).toFixed(2)} V too little`
      : "";
  return `${what} brings ${cable.volts.toFixed(2)} V${missing}`;
}

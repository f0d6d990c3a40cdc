/** Days held as a bar on a ruler, with the mark of what is promised. */
export function DaysBar({ held, wanted }: { held: number; wanted: number | null }) {
  const most = scaleOf(Math.max(held, wanted ?? 0));
  const shown = Math.min(held, most);
  const x = (days: number) => (days / most) * 286;
  const ticks = Array.from({ length: 5 }, (_, at) => (most / 4) * at);
  const kept = wanted === null || held >= wanted;
  const said = `${Math.floor(held * 10) / 10} days kept${wanted === null ? "" : `, ${wanted} promised`}`;
  return (
    <svg viewBox="0 0 290 72" className="my-3 w-full text-small" role="img" aria-label={said}>
      <text x="0" y="14" className="fill-ink text-list font-semibold">
        keeps {Math.floor(held * 10) / 10} days
      </text>
      {wanted !== null && (
        <text
          x="286"
          y="14"
          textAnchor="end"
          className={`text-list font-semibold ${kept ? "fill-ink" : "fill-brass"}`}
        >
          {wanted} promised
        </text>
      )}
      <rect x="0" y="32" width={x(shown)} height="11" className={kept ? "fill-kelp" : "fill-slate"} />
      {!kept && wanted !== null && (
        <rect
          x={x(shown)}
          y="32"
          width={x(wanted - shown)}
          height="11"
          fill="none"
          className="stroke-brass-fill"
          strokeWidth="1.5"
          strokeDasharray="3 2"
        />
      )}
      <path d="M0 44H286" className="stroke-ink" />
      {ticks.map((tick) => (
        <g key={tick}>
          <path d={`M${x(tick)} 44V51`} className="stroke-ink" />
          <text
            x={x(tick)}
            y="65"
            textAnchor={tick === 0 ? "start" : tick === most ? "end" : "middle"}
            className="fill-ink-2 font-mono text-cell"
          >
            {tick}
          </text>
        </g>
      ))}
      {wanted !== null && <path d={`M${x(wanted)} 22V52`} className="stroke-ink" strokeWidth="2.5" />}
    </svg>
  );
}

/** A round end for a ruler of four parts that holds a number with a little room. */
export function scaleOf(number: number): number {
  const wanted = Math.max(number * 1.15, 1);
  for (let power = 1; ; power *= 10)
    for (const step of [4, 8, 12, 20, 40]) if (step * power >= wanted) return step * power;
}

export function LittleBar({ held, wanted, most }: { held: number; wanted: number; most: number }) {
  const x = (days: number) => (Math.min(days, most) / most) * 104;
  return (
    <svg viewBox="0 0 108 16" className="block w-27" aria-hidden="true">
      <path d="M0 13.5H108" className="stroke-ink" />
      <rect x="0" y="4" width={x(held)} height="9" className={held >= wanted ? "fill-kelp" : "fill-slate"} />
      <path d={`M${x(wanted)} 0V16`} className="stroke-ink" strokeWidth="2" />
    </svg>
  );
}

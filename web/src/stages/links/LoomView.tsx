import { Mark, type MarkName } from "../../parts/Mark";
import { LEFT, type Line, type Loom, RIGHT, WIDTH } from "./loom";

const STROKES: Record<string, { colour: string; width: number; dash?: string }> = {
  proven: { colour: "var(--kelp)", width: 2.25 },
  planned: { colour: "var(--slate)", width: 1.5, dash: "4 3" },
  "not-ready": { colour: "var(--brass-fill)", width: 1.75 },
  broken: { colour: "var(--red)", width: 2 },
};
export const THREAD_MARKS: Record<string, MarkName> = {
  proven: "proven",
  planned: "planned",
  "not-ready": "loose",
  broken: "broken",
};
export const THREAD_WORDS: Record<string, string> = {
  proven: "both ends proven",
  planned: "planned",
  "not-ready": "not ready",
  broken: "broken",
};

/** Threads between places and recorder channels. Rows are buttons; the drawing lies under them. */
export function LoomView({
  loom,
  selected,
  select,
}: {
  loom: Loom;
  selected: number | null;
  select: (id: number) => void;
}) {
  return (
    <div className="overflow-x-auto">
      <div className="relative" style={{ height: loom.height, width: WIDTH }}>
        <svg
          width={WIDTH}
          height={loom.height}
          className="pointer-events-none absolute inset-0"
          aria-hidden="true"
          role="presentation"
        >
          {loom.lines.map((line) => (
            <ThreadPath key={line.start.thread.id} line={line} strong={line.start.thread.id === selected} />
          ))}
          {loom.groups.map((group) => (
            <path
              key={`${group.place} ${group.from}`}
              d={`M${LEFT - 8} ${group.from}h8v${group.to - group.from}h-8`}
              fill="none"
              stroke="var(--ink)"
              strokeWidth="2"
            />
          ))}
          {loom.combs.map((comb) => (
            <path
              key={comb.beam.key}
              d={`M${RIGHT + 20} ${comb.from}h-8v${comb.to - comb.from}h8`}
              fill="none"
              stroke="var(--ink)"
              strokeWidth="2"
            />
          ))}
        </svg>
        {loom.groups.map((group) => (
          <div key={`${group.place} ${group.from}`}>
            <b
              className="absolute w-26 truncate pt-0.5 text-right text-small font-semibold"
              style={{ top: group.from }}
              title={group.place}
            >
              {group.place}
            </b>
            {group.starts.map(({ thread, beam, y }) => (
              <button
                key={thread.id}
                type="button"
                onClick={() => select(thread.id)}
                aria-pressed={thread.id === selected}
                aria-label={`${thread.start_name}${thread.from_channel ? `, its channel ${thread.from_channel}` : ""}: ${
                  thread.slot === null ? "no channel" : `channel ${thread.slot}`
                } of ${beam.name}, ${THREAD_WORDS[thread.state]}`}
                className={`absolute left-30 w-46 truncate px-1.5 text-list leading-[22px] ${
                  thread.id === selected ? "outline-2 outline-ink" : "hover:underline"
                }`}
                style={{ top: y - 11 }}
                title={thread.start_name}
              >
                {thread.start_name}
                {thread.from_channel ? ` (${thread.from_channel})` : ""}
              </button>
            ))}
          </div>
        ))}
        {loom.combs.map((comb) => (
          <div key={comb.beam.key}>
            {comb.teeth.map((tooth) => (
              <span
                key={tooth.label}
                className={`absolute font-mono text-small leading-[22px] ${tooth.empty ? "text-ink-2" : "font-semibold"}`}
                style={{ top: tooth.y - 11, left: RIGHT + 24 }}
              >
                {tooth.label}
              </span>
            ))}
            <div
              className="absolute text-note text-ink-2"
              style={{ top: comb.from, left: RIGHT + 112, width: 126 }}
            >
              <b className="block text-small font-semibold text-ink">{comb.beam.name}</b>
              {comb.tied} tied
              {comb.beam.channels !== null && `, ${Math.max(0, comb.beam.channels - comb.tied)} empty`}
              {comb.beam.incoming_mbps !== null && (
                <span className="block">
                  {Math.round(comb.beam.incoming_mbps - comb.beam.wanted_mbps)} Mbit/s to spare
                </span>
              )}
            </div>
          </div>
        ))}
        {loom.lines.map(({ start, to }) => (
          <span
            key={start.thread.id}
            className="pointer-events-none absolute bg-paper px-1"
            style={{ top: (to ?? start.y) - 8, left: to === null ? LEFT + 64 : RIGHT - 26 }}
          >
            <Mark name={THREAD_MARKS[start.thread.state] ?? "planned"} />
            {to === null && (
              <span className="absolute top-0 left-7 text-note whitespace-nowrap text-brass">
                {start.thread.reason}
              </span>
            )}
          </span>
        ))}
      </div>
    </div>
  );
}

function ThreadPath({ line, strong }: { line: Line; strong: boolean }) {
  const { start, to } = line;
  const look = STROKES[start.thread.state] ?? { colour: "var(--slate)", width: 1.5 };
  const d =
    to === null
      ? `M${LEFT} ${start.y}H${LEFT + 66}`
      : `M${LEFT} ${start.y}h18L${RIGHT - 60} ${to}H${RIGHT + 12}`;
  return (
    <path
      d={d}
      fill="none"
      stroke={look.colour}
      strokeWidth={strong ? look.width + 2.5 : look.width}
      strokeDasharray={look.dash}
    />
  );
}

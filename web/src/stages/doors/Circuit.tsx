import type { Schemas } from "../../api/client";
import type { Door } from "./Doors";

type Way = Schemas["CircuitRow"];
const LOCKS: Record<string, string> = {
  magnet: "magnet",
  "strike-fail-secure": "strike, fail-secure",
  "strike-fail-safe": "strike, fail-safe",
  gate: "gate",
};
export const lockWord = (lock: string | null) => (lock === null ? "lock not known" : (LOCKS[lock] ?? lock));

/** The door as it is met: what feeds the lock and through what, the panel, what hangs on it. */
export function DoorDrawing({ door, way }: { door: Door; way: Way }) {
  const holds = way.holds;
  const flows = way.supply && way.fire && way.glass && way.relay !== false;
  const line = `${flows ? "stroke-kelp" : "stroke-ink"}`;
  const width = flows ? 3 : 1.5;
  const state = holds === null ? "not known" : holds ? "held" : "free";
  const said = [
    `${lockWord(door.lock)} of ${door.name}: ${state}.`,
    door.sense,
    door.fire ? "Its current runs through the fire panel’s contact." : "",
  ].join(" ");
  return (
    <svg viewBox="0 0 900 216" className="block w-full text-small" role="img" aria-label={said}>
      <rect x="1" y="30" width="84" height="46" className="fill-paper stroke-ink" strokeWidth="1.75" />
      <text x="43" y="50" textAnchor="middle" className="fill-ink font-semibold">
        supply
      </text>
      <text x="43" y="66" textAnchor="middle" className="fill-ink-2 text-cell">
        of the lock
      </text>
      <path d="M85 53H130" className={line} strokeWidth={width} />
      {door.fire ? (
        <Switch x={130} closed={way.fire} word="fire panel" under="contact" line={line} width={width} />
      ) : (
        <path d="M130 53H210" className={line} strokeWidth={width} />
      )}
      <path d="M210 53H280" className={line} strokeWidth={width} />
      {door.escape ? (
        <Switch x={280} closed={way.glass} word="break glass" under="by the door" line={line} width={width} />
      ) : (
        <path d="M280 53H360" className={line} strokeWidth={width} />
      )}
      <path d="M360 53H430" className={line} strokeWidth={width} />
      <Switch
        x={430}
        closed={way.relay !== false}
        word={`relay${door.number ? ` ${door.number}` : ""}`}
        under={door.relay ? `C to ${door.relay.toUpperCase()}` : "sense not known"}
        line={line}
        width={width}
      />
      <path d="M510 53H600" className={line} strokeWidth={width} />
      <rect x="600" y="32" width="120" height="42" className="fill-paper stroke-ink" strokeWidth="1.75" />
      <text x="660" y="50" textAnchor="middle" className="fill-ink font-semibold">
        {lockWord(door.lock)}
      </text>
      <text x="660" y="66" textAnchor="middle" className="fill-ink-2 text-cell">
        {door.lock_a === null ? "current not known" : `${door.lock_a} A`}
      </text>
      <path d="M720 53H752V92H43V76" className="fill-none stroke-ink" strokeWidth="1.5" />
      <text
        x="764"
        y="50"
        className={`font-semibold ${holds === null ? "fill-ink-2" : holds ? "fill-ink" : "fill-brass"}`}
      >
        {state}
      </text>
      <text x="764" y="67" className="fill-ink-2 text-cell">
        {flows ? "current flows" : "no current flows"}
      </text>
      <path d="M470 74V122" className="stroke-ink" strokeDasharray="2 4" strokeWidth="1.75" />
      <rect x="330" y="122" width="280" height="84" className="fill-paper stroke-ink" strokeWidth="1.75" />
      <text x="346" y="144" className="fill-ink font-semibold">
        {door.panel_name ?? "no panel yet"}
        {door.number ? `, door ${door.number}` : ""}
        {door.of_doors ? ` of ${door.of_doors}` : ""}
      </text>
      <text x="346" y="164" className="fill-ink-2">
        unlocks {door.unlock_s ?? "?"} s{door.lock === "gate" ? "" : ", then locks"}
      </text>
      <text x="346" y="183" className="fill-ink-2">
        says “held open” after {door.held_open_s ?? "?"} s
      </text>
      <Leaf x={130} y={122} words={readers(door, "in")} />
      <path d="M250 139H330" className="stroke-ink" strokeWidth="1.5" />
      <Leaf
        x={130}
        y={172}
        words={door.exit_button ? "exit button" : (readers(door, "out") ?? "no exit button")}
      />
      <path
        d="M250 189H330"
        className="stroke-ink"
        strokeWidth="1.5"
        strokeDasharray={door.exit_button ? undefined : "3 4"}
      />
      <path
        d="M610 146H690"
        className="stroke-ink"
        strokeWidth="1.5"
        strokeDasharray={door.contact ? undefined : "3 4"}
      />
      <Leaf x={690} y={129} words={door.contact ? "door contact" : "no contact"} />
      <text x="818" y="143" className="fill-ink-2 text-cell">
        {door.contact === null ? "" : door.contact === "nc" ? "NC: closed" : "NO: open"}
      </text>
      <text x="818" y="158" className="fill-ink-2 text-cell">
        {door.contact === null ? "" : "while shut"}
      </text>
    </svg>
  );
}

function readers(door: Door, side: string): string {
  const found = door.readers.filter((reader) => (reader.side ?? "in") === side);
  if (found.length === 0) return side === "in" ? "no reader" : "no exit button";
  const [first] = found;
  return `${first?.name ?? "reader"}${first?.bits.length ? `, ${first.bits.join("/")} bit` : ""}`;
}

function Leaf({ x, y, words }: { x: number; y: number; words: string }) {
  return (
    <>
      <rect x={x} y={y} width="120" height="34" className="fill-paper stroke-ink" strokeWidth="1.5" />
      <text x={x + 60} y={y + 21} textAnchor="middle" className="fill-ink text-note font-semibold">
        {words.length > 19 ? `${words.slice(0, 18)}…` : words}
      </text>
    </>
  );
}

function Switch({
  x,
  closed,
  word,
  under,
  line,
  width,
}: {
  x: number;
  closed: boolean;
  word: string;
  under: string;
  line: string;
  width: number;
}) {
  return (
    <>
      <text x={x + 40} y="16" textAnchor="middle" className="fill-ink font-semibold">
        {word}
      </text>
      <text x={x + 40} y="32" textAnchor="middle" className="fill-ink-2 text-cell">
        {under}
      </text>
      <path d={`M${x} 53H${x + 24}`} className={line} strokeWidth={width} />
      <path d={`M${x + 56} 53H${x + 80}`} className={line} strokeWidth={width} />
      <circle cx={x + 24} cy="53" r="3" className="fill-ink" />
      <circle cx={x + 56} cy="53" r="3" className="fill-ink" />
      <path
        d={closed ? `M${x + 24} 53H${x + 56}` : `M${x + 24} 53L${x + 52} 40`}
        className={closed ? line : "stroke-brass-fill"}
        strokeWidth={closed ? width : 3}
      />
    </>
  );
}

/** The same way of the current, small, beside a test. */
export function LittleWay({ way, fire, glass }: { way: Way; fire: boolean; glass: boolean }) {
  const flows = way.supply && way.fire && way.glass && way.relay !== false;
  const line = flows ? "stroke-kelp" : "stroke-ink";
  const parts: [number, boolean, boolean][] = [
    [30, way.fire, fire],
    [74, way.glass, glass],
    [118, way.relay !== false, true],
  ];
  return (
    <svg viewBox="0 0 204 20" className="block w-51" aria-hidden="true">
      <rect
        x="1"
        y="4"
        width="15"
        height="12"
        className={way.supply ? "fill-none stroke-ink" : "fill-none stroke-field"}
        strokeDasharray={way.supply ? undefined : "2 2"}
        strokeWidth="1.5"
      />
      <path d={way.supply ? "M16 10H30" : ""} className={line} strokeWidth="1.5" />
      {parts.map(([x, closed, there]) => (
        <g key={x}>
          {there ? (
            <>
              <path d={`M${x} 10h10M${x + 26} 10h18`} className={line} strokeWidth="1.5" />
              <circle cx={x + 10} cy="10" r="2" className="fill-ink" />
              <circle cx={x + 26} cy="10" r="2" className="fill-ink" />
              <path
                d={closed ? `M${x + 10} 10h16` : `M${x + 10} 10l14 -8`}
                className={closed ? line : "stroke-brass-fill"}
                strokeWidth={closed ? 1.5 : 2.5}
              />
            </>
          ) : (
            <path d={`M${x} 10h44`} className={line} strokeWidth="1.5" />
          )}
        </g>
      ))}
      <rect
        x="164"
        y="3"
        width="22"
        height="14"
        className={way.holds ? "fill-kelp-wash stroke-kelp" : "fill-none stroke-ink"}
        strokeWidth="1.5"
      />
    </svg>
  );
}

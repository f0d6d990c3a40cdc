import type { KeyboardEvent } from "react";
import { Mark } from "../../parts/Mark";
import { type Comb, type Group, LEFT, type Loom, RIGHT, type Section, type Strand, WIDTH } from "./loom";
import { LOOSE, STATES, seatWord, stateWord } from "./words";

const LOOSE_AT = LEFT + 62;

/** Threads between places and the numbers of their targets. Rows are buttons; the drawing lies under them. */
export function LoomView({
  loom,
  selected,
  select,
  unfold,
}: {
  loom: Loom;
  selected: number | null;
  select: (id: number) => void;
  unfold: (key: string) => void;
}) {
  /** The arrows walk the threads. */
  function walk(event: KeyboardEvent<HTMLDivElement>) {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    const rows = [...event.currentTarget.querySelectorAll<HTMLElement>("[data-strand]")];
    const next = step && rows[rows.indexOf(event.target as HTMLElement) + step];
    if (!next) return;
    event.preventDefault();
    next.focus();
  }
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the rows are buttons; the arrows only walk among them
    <div className="overflow-x-auto" tabIndex={-1} onKeyDown={walk}>
      <div className="relative" style={{ height: loom.height, width: WIDTH }}>
        <svg
          width={WIDTH}
          height={loom.height}
          className="pointer-events-none absolute inset-0"
          aria-hidden="true"
          role="presentation"
        >
          {loom.sections.map((section) => (
            <SectionLines key={section.title} section={section} selected={selected} />
          ))}
        </svg>
        {loom.sections.map((section) => (
          <section key={section.title} aria-label={section.title}>
            <h2
              className="absolute left-0 w-full border-b border-hair text-small font-normal text-ink-2"
              style={{ top: section.from - 4 }}
            >
              {section.title}
            </h2>
            {section.groups.map((group) => (
              <Starts
                key={`${group.label} ${group.from}`}
                group={group}
                selected={selected}
                select={select}
                unfold={unfold}
              />
            ))}
            {section.combs.map((comb) => (
              <Target key={comb.beam.id} comb={comb} />
            ))}
            {strandsOf(section).map((strand) => (
              <Ends key={strand.threads[0]?.id} strand={strand} />
            ))}
          </section>
        ))}
      </div>
    </div>
  );
}

function strandsOf(section: Section): Strand[] {
  return section.groups.flatMap((group) => group.strands);
}

function Starts({
  group,
  selected,
  select,
  unfold,
}: {
  group: Group;
  selected: number | null;
  select: (id: number) => void;
  unfold: (key: string) => void;
}) {
  return (
    <div>
      <b
        className="absolute w-26 truncate pt-0.5 text-right text-small font-semibold"
        style={{ top: group.from }}
        title={group.label}
      >
        {group.label}
      </b>
      {group.strands.map((strand) => {
        const [first] = strand.threads;
        if (!first) return null;
        const folded = strand.threads.length > 1;
        const chosen = strand.threads.some((thread) => thread.id === selected);
        return (
          <button
            key={first.id}
            type="button"
            data-strand=""
            onClick={() => (folded ? unfold(strand.key) : select(first.id))}
            aria-pressed={folded ? undefined : chosen}
            aria-expanded={folded ? false : undefined}
            aria-label={labelOf(strand)}
            className={`absolute left-30 w-46 truncate px-1.5 text-list leading-[22px] ${
              chosen ? "font-semibold outline-2 outline-ink" : "hover:underline"
            }`}
            style={{ top: strand.y - 11 }}
            title={folded ? strand.threads.map((thread) => thread.start_name).join(", ") : first.start_name}
          >
            {startWord(strand)}
          </button>
        );
      })}
    </div>
  );
}

function startWord(strand: Strand): string {
  const [first] = strand.threads;
  if (!first) return "";
  const channel = first.from_channel !== null ? ` (${first.from_channel})` : "";
  const more = strand.threads.length - 1;
  return more > 0 ? `${more + 1}: ${first.start_name} …` : `${first.start_name}${channel}`;
}

function labelOf({ threads, beam }: Strand): string {
  const [first] = threads;
  if (!first) return "";
  const word = stateWord(first);
  if (threads.length > 1)
    return `${threads.length} to ${beam.name}, ${word}, from ${first.start_name}: show each`;
  const channel = first.from_channel !== null ? `, its channel ${first.from_channel}` : "";
  const seat = seatWord(beam.word, first.slot);
  const why = first.reason ? `: ${first.reason}` : "";
  return `${first.start_name}${channel}: ${seat ? `${seat} of ` : ""}${beam.name}, ${word}${why}`;
}

/** The marks on a thread: its state near the target, or the loose end with its reason. */
function Ends({ strand }: { strand: Strand }) {
  const [first] = strand.threads;
  if (!first || strand.to === null) return null;
  const look = STATES[first.state];
  if (LOOSE.has(first.state))
    return (
      <span
        className="pointer-events-none absolute flex max-w-60 items-center gap-1.5 bg-paper pl-1 text-note whitespace-nowrap"
        style={{ top: strand.y - 8, left: LOOSE_AT }}
      >
        <Mark name={look.mark} />
        <span className={`truncate ${first.state === "impossible" ? "text-red" : "text-brass"}`}>
          {first.reason}
          {strand.threads.length > 1 && `, and ${strand.threads.length - 1} alike`}
        </span>
      </span>
    );
  return (
    <span
      className="pointer-events-none absolute bg-paper px-1"
      style={{ top: strand.to - 8, left: RIGHT - 26 }}
    >
      <Mark name={look.mark} />
    </span>
  );
}

function Target({ comb }: { comb: Comb }) {
  return (
    <div>
      {comb.teeth.map((tooth) => (
        <span
          key={`${tooth.label} ${tooth.y}`}
          className={`absolute w-25 truncate font-mono text-small leading-[22px] ${tooth.empty ? "text-ink-2" : "font-semibold"}`}
          style={{ top: tooth.y - 11, left: RIGHT + 24 }}
        >
          {tooth.label}
        </span>
      ))}
      <div
        className="absolute text-note text-ink-2"
        style={{ top: comb.from, left: RIGHT + 130, width: WIDTH - RIGHT - 130 }}
      >
        <b className="line-clamp-2 text-small leading-4 font-semibold text-ink" title={comb.beam.name}>
          {comb.beam.name}
        </b>
        <span className="line-clamp-3" title={comb.beam.load}>
          {comb.beam.load}
        </span>
      </div>
    </div>
  );
}

function SectionLines({ section, selected }: { section: Section; selected: number | null }) {
  const ink = { fill: "none", stroke: "var(--ink)", strokeWidth: 2 };
  return (
    <>
      {strandsOf(section).map((strand) => (
        <StrandPath key={strand.threads[0]?.id} strand={strand} selected={selected} />
      ))}
      {section.groups.map((group) => (
        <path
          key={`${group.label} ${group.from}`}
          d={`M${LEFT - 8} ${group.from}h8v${group.to - group.from}h-8`}
          {...ink}
        />
      ))}
      {section.combs.map((comb) => (
        <path key={comb.beam.key} d={`M${RIGHT + 20} ${comb.from}h-8v${comb.to - comb.from}h8`} {...ink} />
      ))}
    </>
  );
}

/** One thread, or the several of a strand side by side. */
function StrandPath({ strand, selected }: { strand: Strand; selected: number | null }) {
  const [first] = strand.threads;
  if (!first || strand.to === null) return null;
  const look = STATES[first.state];
  const strong = strand.threads.some((thread) => thread.id === selected);
  const shown = Math.min(strand.threads.length, 5);
  const { y, to } = strand;
  return Array.from({ length: shown }, (_, at) => {
    const off = (at - (shown - 1) / 2) * 3.5;
    const d = LOOSE.has(first.state)
      ? `M${LEFT} ${y + off}H${LOOSE_AT + 2}`
      : `M${LEFT} ${y + off}h18L${RIGHT - 60} ${to + off}H${RIGHT + 12}`;
    return (
      <path
        // biome-ignore lint/suspicious/noArrayIndexKey: the threads of a strand have no order of their own
        key={at}
        d={d}
        fill="none"
        stroke={look.colour}
        strokeWidth={strong ? look.width + 2.5 : look.width}
        strokeDasharray={look.dash}
      />
    );
  });
}

import { useEffect, useRef, useState } from "react";
import { Caution } from "./Caution";
import { CopyButton } from "./CopyButton";
import { Mark, type MarkName, State } from "./Mark";
import { SecretField } from "./Secret";
import type { Group, Line } from "./useTicks";

const PROOFS: Record<string, [MarkName, string]> = {
  planned: ["planned", "not measured"],
  proven: ["proven", "proven"],
  broken: ["broken", "measured otherwise"],
  "not-measured": ["unread", "not told"],
  stale: ["off", "measured before it changed"],
};

/**
 * Values in the groups in which devices ask for them. The current one is huge; each says why it is that one. In a
 * dialog single keys do nothing, so `keys` is off there.
 */
export function ValueGroups({
  groups,
  current,
  toggle,
  all,
  keys = true,
}: {
  groups: Group[];
  current?: Line | undefined;
  toggle: (line: Line) => void;
  all: (group: Group) => void;
  keys?: boolean;
}) {
  return (
    <>
      {groups.map((group) => {
        const open = group.lines.filter((line) => !line.ticked).length;
        return (
          <section key={group.key} aria-label={group.title} className="border-t border-hair md:flex">
            <div className="flex shrink-0 items-start justify-between gap-2 pt-2 pr-2 md:w-28 md:flex-col md:justify-start">
              <h3 className="font-semibold">{group.title}</h3>
              {open > 1 && (
                <button
                  type="button"
                  className="min-h-11 text-left text-small font-semibold underline underline-offset-4"
                  aria-label={`All of ${group.title} typed`}
                  onClick={() => all(group)}
                >
                  All typed
                </button>
              )}
            </div>
            <div className="min-w-0 flex-1">
              {group.caution && (
                <div className="my-2">
                  <Caution>{group.caution}</Caution>
                </div>
              )}
              <Folded group={group} current={current}>
                <ul>
                  {group.lines.map((line) => (
                    <ValueRow
                      key={line.key}
                      line={line}
                      current={line.key === current?.key}
                      keys={keys}
                      toggle={() => toggle(line)}
                    />
                  ))}
                </ul>
              </Folded>
            </div>
          </section>
        );
      })}
    </>
  );
}

/** A group that is typed, or the same as on the device before, is one line until somebody opens it. */
function Folded({
  group,
  current,
  children,
}: {
  group: Group;
  current: Line | undefined;
  children: React.ReactNode;
}) {
  const typed = group.lines.length > 1 && group.lines.every((line) => line.ticked);
  const here = !group.same_as && group.lines.some((line) => line.key === current?.key);
  if (!current || here || !(typed || group.same_as)) return children;
  const number = `${group.lines.length} ${group.lines.length === 1 ? "value" : "values"}`;
  return (
    <details className="group">
      <summary className="flex min-h-11 cursor-pointer items-center gap-2">
        <Mark name={typed ? "set" : "planned"} />
        {typed ? `${number} typed` : `${number}, the same as on ${group.same_as}`}
        <span aria-hidden="true" className="ml-auto text-ink-2 group-open:rotate-90">
          ▸
        </span>
      </summary>
      {children}
    </details>
  );
}

function ValueRow({
  line,
  current,
  keys,
  toggle,
}: {
  line: Line;
  current: boolean;
  keys: boolean;
  toggle: () => void;
}) {
  const row = useRef<HTMLLIElement>(null);
  const [asked, setAsked] = useState(false);
  useEffect(() => {
    if (current) row.current?.scrollIntoView({ block: "nearest" });
  }, [current]);
  const putOff = line.secret?.version === 0 && line.secret.left_open !== null;
  const long = line.value.length > 24;
  const huge = long ? "text-value md:text-[28px] md:leading-9" : "text-[32px] leading-10 md:text-now";
  const look = current
    ? `max-md:basis-full font-bold ${huge}`
    : line.ticked
      ? "text-body text-ink-2"
      : "text-body font-semibold";
  return (
    <li
      ref={row}
      aria-current={current ? "step" : undefined}
      className={`scroll-mt-52 scroll-mb-4 border-b px-2 max-md:scroll-mt-24 ${current ? "-mt-px border-y-2 border-brass-fill bg-brass-wash py-2" : "border-hair"}`}
    >
      <div className={`flex items-center gap-x-3 ${current ? "max-md:flex-wrap" : ""}`}>
        <span
          className={`flex shrink-0 items-center gap-2 max-md:w-28 md:w-44 ${current ? "font-semibold max-md:w-full" : ""}`}
        >
          {current && <Mark name="turn" />}
          <span className="min-w-0 break-words max-md:hidden">{line.label}</span>
          <button
            type="button"
            aria-expanded={asked}
            aria-label={`Why ${line.label}`}
            className="min-h-11 min-w-0 break-words underline decoration-dotted underline-offset-4 md:hidden"
            onClick={() => setAsked(!asked)}
          >
            {line.label}
          </button>
        </span>
        <div className={`min-w-0 flex-1 font-mono tracking-tight [overflow-wrap:anywhere] ${look}`}>
          {line.secret ? <SecretField secret={line.secret} what={line.label} /> : line.value}
        </div>
        <button
          type="button"
          aria-expanded={asked}
          aria-label={`Why ${line.label}`}
          className="min-h-11 shrink-0 px-1 text-small underline underline-offset-4 max-md:hidden"
          onClick={() => setAsked(!asked)}
        >
          Why
        </button>
        {!line.secret && (
          <span className={current ? "max-md:flex-1" : "max-md:hidden"}>
            <CopyButton value={line.value} what={line.label} strong={current && keys} />
          </span>
        )}
        <button
          type="button"
          aria-pressed={line.ticked && !putOff}
          aria-label={putOff ? `${line.label} left open` : `${line.label} done`}
          onClick={toggle}
          className="grid size-11 shrink-0 place-items-center"
        >
          {putOff ? (
            <Mark name="left" word="left open" size={26} />
          ) : (
            <Mark name={line.ticked ? "set" : "planned"} size={26} />
          )}
        </button>
      </div>
      {(asked || current || line.typed_before) && <Reason line={line} />}
    </li>
  );
}

/** Why this value, what it is usually, what would prove it, and who typed it. */
function Reason({ line }: { line: Line }) {
  const [mark, word] = PROOFS[line.proof?.state ?? "planned"] ?? ["planned", ""];
  return (
    <p className="flex flex-wrap gap-x-4 pb-1.5 text-small text-ink-2 md:pl-47">
      {line.why && <span>{line.why}</span>}
      {line.chosen && line.usual && <span>Usually: {line.usual}.</span>}
      {line.proof && (
        <State name={mark}>
          {line.proof.title}: {line.proof.measured ?? word}
        </State>
      )}
      {line.typed_before && (
        <State name="off">
          typed before: {line.typed_before}
          {line.typed_by ? `, by ${line.typed_by}` : ""}
        </State>
      )}
      {line.ticked && line.typed_by && <span>Typed by {line.typed_by}.</span>}
    </p>
  );
}

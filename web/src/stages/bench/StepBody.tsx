import { useEffect, useRef } from "react";
import type { Schemas } from "../../api/client";
import { Commands } from "../../parts/Commands";
import { CopyButton } from "../../parts/CopyButton";
import { Mark } from "../../parts/Mark";

type Step = Schemas["StepRow"];
type Advice = Schemas["CurrentAdvice"];
type Laptop = Schemas["Laptop"];

const ABOUT: Record<string, [string, string]> = {
  connect: ["Compare these", "with the label on the device"],
  activate: ["Look for it", "at first contact"],
  configure: ["Type these", "the device's own page may name them a little otherwise"],
  confirm: ["See these", "on the device's own page"],
  adapter: ["Type these", "in the laptop's network settings"],
};

/** The step in hand: laptop, browser, and the values one by one; the current one is huge. */
export function StepBody({
  step,
  advice,
  laptop,
  tick,
}: {
  step: Step;
  advice: Advice;
  laptop: Laptop;
  tick: (label: string) => void;
}) {
  const [title, note] = ABOUT[step.kind] ?? ["Values", ""];
  const current = step.values.find((value) => !step.ticked.includes(value.label));
  return (
    <div>
      {step.kind !== "adapter" && step.kind !== "connect" && (
        <Line label="Laptop">
          <span className="font-mono text-lead font-semibold md:text-value">
            {laptop.fixed ? `${laptop.address}/${laptop.prefix}` : "automatic"}
          </span>
          <span className="flex items-center gap-2 text-small text-kelp">
            <Mark name="set" /> {laptop.fixed ? "set by hand" : "in the site network"}
          </span>
        </Line>
      )}
      {advice.open && (
        <Line label="Browser">
          <span className="min-w-0 font-mono text-lead font-semibold break-all md:text-value">
            {advice.open}
          </span>
          <a className="btn text-ink no-underline" href={advice.open} target="_blank" rel="noreferrer">
            Open <kbd className="key max-md:hidden">O</kbd>
          </a>
        </Line>
      )}
      {step.values.length > 0 && (
        <div className="border-t border-hair md:flex">
          <div className="shrink-0 pt-3 pr-2 md:w-28">
            <p className="font-semibold">{title}</p>
            <p className="text-note text-ink-2">{note}</p>
          </div>
          <ul className="min-w-0 flex-1">
            {step.values.map((value) => (
              <ValueRow
                key={value.label}
                value={value}
                ticked={step.ticked.includes(value.label)}
                current={value === current}
                tick={() => tick(value.label)}
              />
            ))}
          </ul>
        </div>
      )}
      {advice.contact && <Contact contact={advice.contact} adapter={step.kind === "adapter"} />}
      {advice.expect && (
        <Line label="Expect">
          <span className="text-body">{advice.expect}</span>
        </Line>
      )}
    </div>
  );
}

/** How the device in hand is reached; open where the laptop has to be set, else folded. */
function Contact({ contact, adapter }: { contact: NonNullable<Advice["contact"]>; adapter: boolean }) {
  return (
    <details className="group border-t border-hair" open={adapter}>
      <summary className="flex min-h-11 cursor-pointer items-center gap-2 font-semibold">
        {adapter ? "On this laptop" : "How to reach it"}
        <span className="font-normal text-ink-2">{contact.way}</span>
        <span aria-hidden="true" className="ml-auto text-ink-2 group-open:rotate-90">
          ▸
        </span>
      </summary>
      <div className="pb-3 md:pl-28">
        {contact.steps.length > 0 && (
          <ol className="list-decimal pl-5 text-list">
            {contact.steps.map((step) => (
              <li key={step} className="py-0.5">
                {step}
              </li>
            ))}
          </ol>
        )}
        {contact.commands.length > 0 && (
          <div className="mt-2">
            <Commands commands={contact.commands} what="the command" />
          </div>
        )}
      </div>
    </details>
  );
}

function Line({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div className="flex flex-wrap items-center border-t border-hair py-1.5 md:min-h-13 md:flex-nowrap">
      <p className="w-28 shrink-0 font-semibold max-md:w-20">{label}</p>
      <div className="flex min-w-0 flex-1 flex-wrap items-center justify-between gap-x-4 gap-y-1">
        {children}
      </div>
    </div>
  );
}

function ValueRow({
  value,
  ticked,
  current,
  tick,
}: {
  value: Schemas["ValueRow"];
  ticked: boolean;
  current: boolean;
  tick: () => void;
}) {
  const row = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (current) row.current?.scrollIntoView({ block: "nearest" });
  }, [current]);
  return (
    <li
      ref={row}
      aria-current={current ? "step" : undefined}
      className={`flex items-center gap-x-3 border-b ${
        current
          ? "-mt-px border-y-2 border-brass-fill bg-brass-wash px-2 py-2 max-md:flex-wrap"
          : "border-hair px-2"
      }`}
    >
      <span
        className={`flex shrink-0 items-center gap-2 ${current ? "w-40 font-semibold max-md:w-full" : "w-40 max-md:w-28"}`}
      >
        {current && <Mark name="turn" />}
        {value.label}
      </span>
      <span
        className={`min-w-0 flex-1 font-mono tracking-tight [overflow-wrap:anywhere] ${
          current
            ? "text-[32px] leading-10 font-bold max-md:basis-full md:text-now"
            : ticked
              ? "text-body text-ink-2 md:text-lead"
              : "text-body font-semibold md:text-lead"
        }`}
      >
        {value.value}
      </span>
      <span className={current ? "max-md:flex-1" : "max-md:hidden"}>
        <CopyButton value={value.value} what={value.label} strong={current} />
      </span>
      <button
        type="button"
        aria-pressed={ticked}
        aria-label={`${value.label} done`}
        onClick={tick}
        className="grid size-11 shrink-0 place-items-center"
      >
        <Mark name={ticked ? "set" : "planned"} size={26} />
      </button>
    </li>
  );
}

import type { Schemas } from "../../api/client";
import { Commands } from "../../parts/Commands";
import { Mark } from "../../parts/Mark";
import { type Group, nextLine, type Line as ValueLine } from "../../parts/useTicks";
import { ValueGroups } from "../../parts/Values";

type Step = Schemas["StepRow"];
type Advice = Schemas["CurrentAdvice"];
type Laptop = Schemas["Laptop"];

/** The step in hand: laptop, browser, and the values one by one; the current one is huge. */
export function StepBody({
  step,
  advice,
  laptop,
  toggle,
  all,
}: {
  step: Step;
  advice: Advice;
  laptop: Laptop;
  toggle: (line: ValueLine) => void;
  all: (group: Group) => void;
}) {
  const current = nextLine(advice.groups);
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
      <ValueGroups groups={advice.groups} current={current} toggle={toggle} all={all} />
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

import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Caution } from "../../parts/Caution";
import { DeviceLink } from "../../parts/DeviceLink";
import { dayOf } from "../../parts/dates";
import { LineField } from "../../parts/LineField";
import { Mark, type MarkName, State } from "../../parts/Mark";
import type { Act, ChangeRow } from "./Later";

type Step = ChangeRow["steps"][number];
const MARKS: Record<Step["state"], MarkName> = { done: "set", open: "turn", waits: "planned" };
const UNIT = {
  mac: "hardware address",
  serial: "serial number",
  wifi_mac: "hardware address on Wi-Fi",
} as const;

/** A change step by step; one step holds those that follow from it. */
export function Change({ change, act, busy }: { change: ChangeRow; act: (act: Act) => void; busy: boolean }) {
  const over = change.over !== null;
  return (
    <section aria-label="The change" className="min-w-0">
      <h2 className="text-lead font-semibold [overflow-wrap:anywhere]">
        {change.device ? <DeviceLink device={change.device}>{change.name}</DeviceLink> : change.name}
        <span className="block text-small font-normal text-ink-2">
          {change.word}. Begun by {change.by}, {dayOf(change.begun)}.
        </span>
      </h2>
      {change.given_up && <p className="py-1">Given up: {change.given_up}.</p>}
      {over && !change.given_up && (
        <p className="py-1">
          <State name="set">Every step is done.</State>
        </p>
      )}
      {change.asks.length > 0 && !over && <Unit change={change} act={act} busy={busy} />}
      <ol aria-label="Steps of the change">
        {change.steps.map((step, at) => (
          <StepLine
            key={`${step.key} ${step.state}`}
            step={step}
            name={change.name}
            number={at + 1}
            over={over}
            busy={busy}
            tick={(body) => act({ do: "step", id: change.id, step: step.key, body })}
          />
        ))}
      </ol>
      {!over && <GiveUp change={change} act={act} busy={busy} />}
    </section>
  );
}

function StepLine({
  step,
  name,
  number,
  over,
  busy,
  tick,
}: {
  step: Step;
  name: string;
  number: number;
  over: boolean;
  busy: boolean;
  tick: (body: Schemas["ChangeTick"]) => void;
}) {
  const [note, setNote] = useState("");
  return (
    <li className="grid grid-cols-[2.5rem_minmax(0,1fr)] gap-x-3 border-t border-hair py-2.5">
      <span className="flex items-center gap-1.5 self-start pt-0.5 font-mono text-small">
        <Mark name={MARKS[step.state]} word={step.state === "open" ? "to do now" : step.state} /> {number}
      </span>
      <div className="min-w-0">
        <p className="font-semibold [overflow-wrap:anywhere]">{step.title}</p>
        <p className="text-small text-ink-2">
          {step.at && step.at !== name && <b className="font-semibold text-ink">At {step.at}: </b>}
          {step.why}
          {step.state === "waits" && ` First: ${step.waits_for}.`}
          {step.by && ` ${[step.note, step.by, step.done && dayOf(step.done)].filter(Boolean).join(", ")}.`}
        </p>
        {step.caution && step.state !== "done" && (
          <div className="py-1.5">
            <Caution>{step.caution}</Caution>
          </div>
        )}
        {step.state === "open" && !over && (
          <form
            className="flex flex-wrap items-end gap-3 pt-1.5"
            onSubmit={(event) => {
              event.preventDefault();
              tick({ done: true, note });
            }}
          >
            <LineField label="a word (may stay empty)" value={note} set={setNote} look="flex-1 basis-56" />
            <button type="submit" className="btn" disabled={busy} aria-label={`Done: ${step.title}`}>
              Done
            </button>
          </form>
        )}
        {step.state === "done" && !over && (
          <button
            type="button"
            className="min-h-11 text-small underline underline-offset-4"
            disabled={busy}
            aria-label={`Open again: ${step.title}`}
            onClick={() => tick({ done: false, note: "" })}
          >
            Open again
          </button>
        )}
      </div>
    </li>
  );
}

function Unit({ change, act, busy }: { change: ChangeRow; act: (act: Act) => void; busy: boolean }) {
  const [typed, setTyped] = useState<Record<string, string>>({});
  const same = change.asks.every((name) => change.was[name] === change.now[name]);
  return (
    <form
      aria-label="The new unit"
      className="my-2 flex flex-wrap items-end gap-3 border-l-4 border-hair pl-3"
      onSubmit={(event) => {
        event.preventDefault();
        const { mac = "", serial = "", wifi_mac = "" } = typed;
        act({ do: "unit", id: change.id, body: { mac, serial, wifi_mac } });
      }}
    >
      <p className="basis-full text-small">
        {change.asks.map((name) => `${UNIT[name]}: was ${change.was[name] ?? "not known"}`).join(", ")}.
        {!same && (
          <b className="font-semibold">
            {" "}
            Now {change.asks.map((name) => change.now[name] ?? "not known").join(", ")}.
          </b>
        )}
      </p>
      {change.asks.map((name) => (
        <label key={name} className="grid min-w-0 gap-0.5 text-cell">
          {change.kind === "replace" ? `new ${UNIT[name]}` : UNIT[name]}
          <input
            className="box w-56 min-w-0 font-mono"
            maxLength={40}
            value={typed[name] ?? ""}
            onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
          />
        </label>
      ))}
      <button
        type="submit"
        className="btn"
        disabled={busy || !Object.values(typed).some((text) => text.trim())}
      >
        Write it down
      </button>
    </form>
  );
}

function GiveUp({ change, act, busy }: { change: ChangeRow; act: (act: Act) => void; busy: boolean }) {
  const [reason, setReason] = useState("");
  return (
    <details className="border-t border-hair">
      <summary className="min-h-11 cursor-pointer py-2.5 text-small">Give this change up</summary>
      <form
        className="flex flex-wrap items-end gap-3 pb-2"
        onSubmit={(event) => {
          event.preventDefault();
          act({ do: "give-up", id: change.id, reason });
        }}
      >
        <LineField label="why it is given up" value={reason} set={setReason} look="flex-1 basis-56" />
        <button type="submit" className="btn" disabled={busy || !reason.trim()}>
          Give it up
        </button>
      </form>
    </details>
  );
}

import type { Schemas } from "../../api/client";
import { useFrame } from "../../api/site";
import { DeviceLink } from "../../parts/DeviceLink";
import { Mark } from "../../parts/Mark";
import { Problems } from "../../parts/Page";
import type { Group, Line } from "../../parts/useTicks";
import { CardOfDevice } from "../cards/CardOfDevice";
import { countdown, spoken } from "./lane";
import { Practised } from "./Practised";
import { RunBar } from "./RunBar";
import { RunLane } from "./RunLane";
import { StepBody } from "./StepBody";
import type { Sheet } from "./useBench";

type Step = Schemas["StepRow"];
const BENCH_PARTS: Schemas["PhaseRow"]["key"][] = ["unpacking", "first-login"];

/** The run around now, and the step in hand with all that stands beside it. */
export function Current({
  sheet,
  step,
  advice,
  now,
  clock,
  calls,
  narrow,
  waiting,
  change,
  toggle,
  all,
  back,
  takeUp,
}: {
  sheet: Sheet;
  step: Step;
  advice: Schemas["CurrentAdvice"];
  now: number;
  clock: (seconds: number) => string;
  calls: { on: boolean; toggle: () => void };
  narrow: boolean;
  waiting: boolean;
  change: (change: "pause" | "resume" | "technicians", technicians?: number) => void;
  toggle: (line: Line) => void;
  all: (group: Group) => void;
  back: { run: () => void; disabled: boolean } | undefined;
  takeUp: (device: string) => void;
}) {
  const frame = useFrame();
  const names = new Map((frame.data?.devices ?? []).map((device) => [device.key, device.name]));
  const byHand = sheet.steps.filter((item) => item.manual);
  const done = byHand.filter((item) => item.state === "done" || item.state === "skipped");
  const after = byHand.filter(
    (item) => item.hand === step.hand && item.id !== step.id && !done.includes(item),
  );
  const kept = advice.keep_off.map((key) => names.get(key) ?? key);
  return (
    <>
      <div className="top-0 z-10 -mx-4 mt-1 flex flex-wrap items-start gap-x-6 gap-y-1 border-b border-hair bg-paper px-4 pb-1 md:sticky md:-mx-6 md:px-6">
        <div className="min-w-0 flex-1 basis-80">
          <RunLane
            steps={sheet.steps}
            current={step.id}
            now={now}
            technicians={sheet.run.technicians}
            hand={sheet.run.hand}
            clock={clock}
            narrow={narrow}
          />
          <h2 className="pt-1 text-title font-bold max-md:hidden">{step.title}</h2>
        </div>
        <RunBar sheet={sheet} now={now} clock={clock} calls={calls} change={change} />
      </div>
      <h2 className="sticky top-0 z-10 -mx-4 border-b border-hair bg-paper px-4 py-1 text-lead font-bold md:hidden">
        {step.title}
      </h2>
      {sheet.problems.length > 0 && <Problems problems={sheet.problems} />}
      <div className="flex flex-col gap-x-8 gap-y-4 pt-3 xl:flex-row">
        <section className="min-w-0 flex-1" aria-label="The step in hand">
          <p className="pb-1 text-ink-2">
            {waiting && <b className="text-slate">In {countdown(step.start_s - now)}. </b>}
            {advice.place ? `${advice.place}, ` : ""}step {done.length + 1} of {byHand.length}
            {step.port ? `, bench port ${step.port}` : ""}
          </p>
          {step.why && (
            <p className="max-w-prose pb-2 text-small text-ink-2">
              <span className="font-semibold">Why now: </span>
              {step.why}
            </p>
          )}
          <StepBody step={step} advice={advice} laptop={sheet.laptop} toggle={toggle} all={all} />
        </section>
        <aside className="w-full xl:w-78 xl:shrink-0" aria-label="Beside the step">
          {step.device && (
            <div className="slip">
              <h3 className="font-semibold">The device in your hand</h3>
              <dl className="mt-2 grid grid-cols-[auto_1fr] gap-x-4 text-small">
                <dt className="text-ink-2">Sticker</dt>
                <dd className="font-mono">
                  <DeviceLink device={step.device}>{step.device}</DeviceLink>
                </dd>
                <dt className="text-ink-2">Serial</dt>
                <dd className="font-mono">{advice.serial ?? "not read yet"}</dd>
                <dt className="text-ink-2">Hardware address</dt>
                <dd className="font-mono">{advice.mac ?? "not read yet"}</dd>
              </dl>
            </div>
          )}
          {step.device && <CardOfDevice key={step.device} device={step.device} parts={BENCH_PARTS} />}
          {advice.practised && <Practised row={advice.practised} />}
          {kept.length > 0 && (
            <p className="mt-3 flex gap-2 border border-brass-fill bg-brass-wash p-4">
              <span className="mt-1">
                <Mark name="off" />
              </span>
              <span>
                <b>
                  Leave {kept.slice(0, 3).join(", ")}
                  {kept.length > 3 ? ` and ${kept.length - 3} more` : ""} unplugged.
                </b>{" "}
                {kept.length === 1 ? "It has" : "They have"} the same factory address.
              </span>
            </p>
          )}
          {advice.caution && (
            <p className="mt-3 flex gap-2 border-l-4 border-brass-fill px-3 text-list">
              <span>
                <b>Caution.</b> {advice.caution}
              </span>
            </p>
          )}
          <h3 className="mt-5 border-b border-hair pb-1 font-semibold">After this</h3>
          <ol>
            {after.slice(0, 5).map((item) => (
              <li
                key={item.id}
                className="grid grid-cols-[auto_1fr_auto] gap-3 border-b border-hair py-1.5 text-list"
              >
                <span className="font-mono text-small text-ink-2">{clock(item.start_s)}</span>
                <span>{item.title}</span>
                <span className="whitespace-nowrap text-ink-2">{spoken(item.end_s - item.start_s)}</span>
              </li>
            ))}
          </ol>
          {sheet.run.set_aside.length > 0 && (
            <>
              <h3 className="mt-5 border-b border-hair pb-1 font-semibold">Set aside</h3>
              <ul>
                {sheet.run.set_aside.map((item) => (
                  <li
                    key={item.device}
                    className="flex items-center justify-between gap-3 border-b border-hair"
                  >
                    <span className="text-list">
                      {names.get(item.device) ?? item.device}: {item.reason}
                    </span>
                    <button
                      type="button"
                      className="min-h-11 text-small font-semibold whitespace-nowrap underline"
                      onClick={() => takeUp(item.device)}
                    >
                      Take it up
                    </button>
                  </li>
                ))}
              </ul>
            </>
          )}
          {back && (
            <button
              type="button"
              className="mt-2 min-h-11 text-small font-semibold underline"
              onClick={back.run}
              disabled={back.disabled}
            >
              Take up the last step again <kbd className="key max-md:hidden">Ctrl Z</kbd>
            </button>
          )}
        </aside>
      </div>
    </>
  );
}

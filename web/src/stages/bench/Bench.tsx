import { useState } from "react";
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { useFrame, useSheet, useSiteKey } from "../../api/site";
import { copyText } from "../../parts/CopyButton";
import { DeviceLink } from "../../parts/DeviceLink";
import { useKeys } from "../../parts/keys";
import { Mark } from "../../parts/Mark";
import { NextBar } from "../../parts/NextBar";
import { Empty, Trouble } from "../../parts/Notes";
import { Page } from "../../parts/Page";
import { useSlot } from "../../parts/Secret";
import { type Group, type Line, nextLine, useTicks } from "../../parts/useTicks";
import { laneOf, spoken } from "./lane";
import { RunLane } from "./RunLane";
import { SkipDialog } from "./SkipDialog";
import { StepBody } from "./StepBody";
import { useRecord } from "./useRecord";

type Sheet = Schemas["BenchSheet"];
type Step = Schemas["StepRow"];

/** What to do next and what to type. */
export function Bench() {
  const sheet = useSheet("bench");
  const navigate = useNavigate();
  const site = useSiteKey();
  const [skipping, setSkipping] = useState(false);
  const record = useRecord();
  const ticks = useTicks(["bench"]);
  const data = sheet.data;
  const step = data?.steps.find((item) => item.id === data.current?.step);
  const subject = data?.current?.subject ?? "";
  const groups = data?.current?.groups ?? [];
  const value = nextLine(groups);
  const slot = useSlot(value?.secret ?? NO_SLOT);
  const [making, setMaking] = useState(false);
  const [fault, setFault] = useState<Error | null>(null);
  const last = data?.steps.filter((item) => item.hands && item.state !== "open").at(-1);

  function finish(state: "done" | "skipped", reason = "") {
    if (step) record.settle(step.id, state, reason);
    setSkipping(false);
  }
  function make() {
    setMaking(true);
    setFault(null);
    slot
      .keep(null)
      .catch(setFault)
      .finally(() => setMaking(false));
  }
  function reopen() {
    if (last) record.settle(last.id, "open");
  }
  useKeys({
    c: async () => value && copyText(value.secret ? (await slot.reveal()).secret : value.value),
    o: () => data?.current?.open && window.open(data.current.open, "_blank", "noreferrer"),
    "mod+z": reopen,
  });
  return (
    <>
      <Page title="Bench" fetched={sheet}>
        {(loaded) =>
          loaded.steps.length === 0 ? (
            <Empty title="Nothing to do at the bench">There is no device in the kit yet.</Empty>
          ) : (
            <>
              {[record.error, ticks.error, fault].map(
                (error) => error && <Trouble key={error.message} error={error} />,
              )}
              {step && loaded.current ? (
                <Current
                  sheet={loaded}
                  step={step}
                  advice={loaded.current}
                  toggle={(line) => ticks.toggle(subject, line)}
                  all={(group) => ticks.all(subject, group)}
                  back={last && reopen}
                />
              ) : (
                <Empty title="The bench is done">
                  Every step is done or left out with its reason. What was set by hand is measured next.
                </Empty>
              )}
            </>
          )
        }
      </Page>
      {step && (
        <SkipDialog
          key={step.id}
          title={step.title}
          open={skipping}
          close={() => setSkipping(false)}
          skip={(reason) => finish("skipped", reason)}
        />
      )}
      {data && (
        <NextBar
          sentence={
            step ? value ? <NextValue step={step} value={value} /> : `${step.title}.` : "The bench is done."
          }
          detail={step && value ? place(groups, value) : step ? "" : "Measure the site."}
          others={step ? [{ label: "It refuses", key: "?", run: () => setSkipping(true) }] : []}
          go={
            step
              ? value
                ? missing(value)
                  ? { label: "Make one", key: " ", run: make, disabled: making }
                  : {
                      label: word(step, value),
                      key: " ",
                      run: () => ticks.next(subject, value.key) || finish("done"),
                    }
                : { label: "Done", key: " ", run: () => finish("done"), disabled: record.settling }
              : { label: "Go to the proof", key: " ", run: () => navigate(`/sites/${site}/proof`) }
          }
        />
      )}
    </>
  );
}

const NO_SLOT: Schemas["SecretRow"] = {
  device: "",
  slot: "",
  word: "",
  makeable: false,
  version: 0,
  by: null,
  at: null,
};

/** A secret that is not kept yet, and that Tutelar can make. */
function missing(value: Line): boolean {
  return value.secret !== null && value.secret.version === 0 && value.secret.makeable;
}

const WORDS: Record<string, [string, string]> = {
  connect: ["Compare the", "Same"],
  activate: ["Type the", "Typed"],
  configure: ["Type the", "Typed"],
  confirm: ["See the", "Seen"],
  adapter: ["Type the", "Typed"],
};
const ORDINALS = [
  "first",
  "second",
  "third",
  "fourth",
  "fifth",
  "sixth",
  "seventh",
  "eighth",
  "ninth",
  "tenth",
];

function word(step: Step, value: Line): string {
  if (value.secret?.version === 0) return "Not now";
  return WORDS[step.kind]?.[1] ?? "Done";
}

function NextValue({ step, value }: { step: Step; value: Line }) {
  const label = /^(IPv4|DNS|UTC)/.test(value.label) ? value.label : value.label.toLowerCase();
  if (value.secret?.version === 0) return <>The {label} is not kept yet</>;
  return (
    <>
      {WORDS[step.kind]?.[0]} {label} <span className="font-mono break-all">{value.value}</span>
    </>
  );
}

function place(groups: Group[], value: Line): string {
  const lines = groups.flatMap((group) => group.lines);
  const at = lines.indexOf(value);
  return `${ORDINALS[at] ?? `${at + 1}th`} of ${lines.length} ${lines.length === 1 ? "value" : "values"}`;
}

function Current({
  sheet,
  step,
  advice,
  toggle,
  all,
  back,
}: {
  sheet: Sheet;
  step: Step;
  advice: Schemas["CurrentAdvice"];
  toggle: (line: Line) => void;
  all: (group: Group) => void;
  back: (() => void) | undefined;
}) {
  const frame = useFrame();
  const names = new Map((frame.data?.devices ?? []).map((device) => [device.key, device.name]));
  const byHand = sheet.steps.filter((item) => item.hands);
  const open = byHand.filter((item) => item.state === "open");
  const lane = laneOf(sheet.steps, step);
  const kept = advice.keep_off.map((key) => names.get(key) ?? key);
  return (
    <>
      <div className="mt-1 flex flex-wrap items-start gap-x-6 gap-y-2 border-b border-hair pb-2">
        <div className="min-w-0 flex-1 basis-96 max-sm:hidden">
          <RunLane lane={lane} />
        </div>
        <p className="text-small text-ink-2">
          Left at the bench
          <b className="block text-step font-bold text-ink">{spoken(sheet.left_s)}</b>
          of {spoken(sheet.total_s)}; no run can be shorter than {spoken(sheet.lower_bound_s)}
        </p>
      </div>
      <div className="flex flex-col gap-x-8 gap-y-4 pt-3 xl:flex-row">
        <section className="min-w-0 flex-1" aria-label="The step in hand">
          <h2 className="text-title font-bold md:text-step">{step.title}</h2>
          <p className="pb-2 text-ink-2">
            {advice.place ? `${advice.place}, ` : ""}step {byHand.indexOf(step) + 1} of {byHand.length}
          </p>
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
          {kept.length > 0 && (
            <p className="flex gap-2 border border-brass-fill bg-brass-wash p-4">
              <span className="mt-1">
                <Mark name="off" />
              </span>
              <span>
                <b>
                  Leave {kept.slice(0, 3).join(", ")}
                  {kept.length > 3 ? ` and ${kept.length - 3} more` : ""} unplugged.
                </b>{" "}
                {kept.length === 1 ? "It wakes" : "They wake"} at the same factory address.
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
            {open.slice(1, 6).map((item) => (
              <li key={item.id} className="flex justify-between gap-3 border-b border-hair py-1.5 text-list">
                <span>{item.title}</span>
                <span className="whitespace-nowrap text-ink-2">{spoken(item.end_s - item.start_s)}</span>
              </li>
            ))}
          </ol>
          {back && (
            <button type="button" className="mt-2 min-h-11 text-small font-semibold underline" onClick={back}>
              Take up the last step again <kbd className="key max-md:hidden">Ctrl Z</kbd>
            </button>
          )}
        </aside>
      </div>
    </>
  );
}

import { lazy, Suspense, useState } from "react";
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { useSiteKey } from "../../api/site";
import { copyText } from "../../parts/CopyButton";
import { Empty, Trouble } from "../../parts/Feedback";
import { useKeys } from "../../parts/keys";
import { useLeaving } from "../../parts/LeaveSlot";
import { later } from "../../parts/later";
import { type Act, NextBar } from "../../parts/NextBar";
import { Page, Problems } from "../../parts/Page";
import { isUnmade, useSlot } from "../../parts/useSlot";
import { type Group, type Line, nextLine, stretch, useTicks } from "../../parts/useTicks";
import { useWidth } from "../../parts/useWidth";
import { lower } from "../../parts/words";
import { Current } from "./Current";
import { countdown } from "./lane";
import { Start } from "./Start";
import { useBench, useCalls, useRunClock } from "./useBench";
import { useRecord } from "./useRecord";

const fetchProblem = () => import("./ProblemDialog");
const ProblemDialog = lazy(() => fetchProblem().then((part) => ({ default: part.ProblemDialog })));
later(fetchProblem); // so that it is here when it is wanted

type Step = Schemas["StepRow"];

/** What to do next and what to type, while other devices work by themselves. */
export function Bench() {
  const { sheet, stage, plan, search } = useBench();
  const navigate = useNavigate();
  const site = useSiteKey();
  const narrow = useWidth() < 640;
  const [stopped, setStopped] = useState(false);
  const record = useRecord(stage);
  const ticks = useTicks(stage);
  const data = sheet.data;
  const { now, clock } = useRunClock(data, sheet.dataUpdatedAt);
  const planned = data?.run.state === "planned" && data.steps.length > 0;
  const paused = data?.run.state === "paused";
  const step = planned ? undefined : data?.steps.find((item) => item.id === data.current?.step);
  const stuck = step ? undefined : data?.problems.find((item) => item.code === "run.stuck");
  const wait = data?.steps.find((item) => item.id === data.current?.waits_for);
  const begins = step ? step.start_s - now : 0;
  const waiting = step !== undefined && step.state !== "doing" && begins > 0.5;
  const subject = data?.current?.subject ?? "";
  const groups = data?.current?.groups ?? [];
  const value = nextLine(groups);
  const next = stretch(groups);
  const slot = useSlot(value?.secret ?? NO_SLOT);
  const maker = useSlot(next.blocked?.secret ?? NO_SLOT);
  const [making, setMaking] = useState(false);
  const leaving = useLeaving(value);
  const [fault, setFault] = useState<Error | null>(null);
  const mine = data?.steps.filter((item) => item.manual && item.hand === data.run.hand) ?? [];
  const last = mine.filter((item) => item.state === "done" || item.state === "skipped").at(-1);
  const ready = data?.steps.filter((item) => !item.manual && item.end_s <= now).length ?? 0;
  const calls = useCalls(ready);

  function make() {
    setMaking(true);
    setFault(null);
    maker
      .makeMissing()
      .catch(setFault)
      .finally(() => setMaking(false));
  }
  function reopen() {
    if (last && !record.settling) record.settle(last.id, { state: "open" });
  }
  function finish() {
    if (step) record.settle(step.id, { state: "done" });
  }
  function go(): Act | undefined {
    if (planned)
      return {
        label: record.starting ? "Working it out…" : "Start the run",
        key: " ",
        run: () => record.start(data?.run.technicians ?? 1),
        disabled: record.starting,
      };
    if (paused) return { label: "Go on", key: " ", run: () => record.change("resume") };
    if (stuck) return undefined;
    if (!step) return { label: "Go to the proof", key: " ", run: () => navigate(`/sites/${site}/proof`) };
    if (waiting) {
      if (!wait || wait.state === "done") return undefined;
      return {
        label: "It is ready",
        key: " ",
        run: () => record.settle(wait.id, { state: "ready" }),
        disabled: record.settling,
      };
    }
    if (!value) return { label: "Done", key: " ", run: finish, disabled: record.settling };
    if (value.secret && isUnmade(value.secret))
      return { label: "Make it", key: " ", run: make, disabled: making };
    if (leaving.act) return leaving.act;
    const many = next.lines.length;
    const typed = many > 1 ? `${word(step, value)}: all ${many}` : word(step, value);
    if (next.blocked?.secret && isUnmade(next.blocked.secret))
      return {
        label: `${typed}, then make the password`,
        key: " ",
        run: () => {
          ticks.confirm(subject, value.key);
          make();
        },
        disabled: making,
      };
    return { label: typed, key: " ", run: () => ticks.confirm(subject, value.key) };
  }
  function sentence() {
    if (planned) return "Put the boxes beside the bench, then start the run.";
    if (paused) return "The run rests. Devices that work by themselves go on.";
    if (stuck) return "Nothing can go on: set one of the devices aside.";
    if (!step) return "The bench is done.";
    if (waiting) return `Wait ${countdown(begins)}${wait ? `: ${wait.title}` : ""}.`;
    if (value && next.lines.length > 1) return TOGETHER[step.kind] ?? settingOf(next.titles, next.like);
    return value ? <NextValue step={step} value={value} /> : `${step.title}.`;
  }
  function detail() {
    if (planned || paused) return "";
    if (!step) return stuck ? "" : "Measure the site.";
    if (waiting) return `Then: ${step.title}.`;
    if (value && next.lines.length > 1)
      return `${next.lines.length} values${next.same ? `, ${next.same} of them as before` : ""}.`;
    return value ? place(groups, value) : "";
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
              {planned ? (
                <Start sheet={plan ?? loaded} search={search} narrow={narrow} />
              ) : step && loaded.current ? (
                <Current
                  sheet={loaded}
                  step={step}
                  advice={loaded.current}
                  now={now}
                  clock={clock}
                  calls={calls}
                  narrow={narrow}
                  waiting={waiting}
                  change={record.change}
                  toggle={(line) => ticks.toggle(subject, line)}
                  all={(group) => ticks.all(subject, group)}
                  back={last && { run: reopen, disabled: record.settling }}
                  takeUp={(device) => record.settle(`${device}:connect`, { state: "back" })}
                />
              ) : stuck ? (
                <Stuck
                  problem={stuck}
                  aside={(device) =>
                    record.settle(`${device}:connect`, {
                      state: "failed",
                      after: "aside",
                      reason: "The bench was full",
                    })
                  }
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
      {step && stopped && (
        <Suspense fallback={null}>
          <ProblemDialog
            key={step.id}
            title={step.title}
            device={step.device !== null}
            longer={
              wait && wait.state !== "done"
                ? (seconds) => {
                    record.settle(wait.id, { state: "longer", seconds });
                    setStopped(false);
                  }
                : undefined
            }
            open
            close={() => setStopped(false)}
            say={(said) => {
              record.settle(step.id, said);
              setStopped(false);
            }}
          />
        </Suspense>
      )}
      {leaving.dialog}
      {data && (
        <NextBar
          busy={waiting || paused}
          sentence={sentence()}
          detail={detail()}
          others={[
            ...(step && !paused && !waiting && !narrow && value && next.lines.length > 1
              ? [{ label: "Only one", key: "1", run: () => ticks.next(subject, value.key) }]
              : []),
            ...(step && !paused ? [{ label: "Problem", key: "?", run: () => setStopped(true) }] : []),
          ]}
          go={data.steps.length ? go() : undefined}
        />
      )}
    </>
  );
}

/** All ports are held by devices that wait for one that finds none: somebody decides which one goes. */
function Stuck({ problem, aside }: { problem: Schemas["ProblemRow"]; aside: (device: string) => void }) {
  return (
    <section aria-label="Nothing can go on">
      <Problems problems={[problem]} />
      <p className="flex flex-wrap gap-2 pt-2">
        {problem.subjects.map((device) => (
          <button key={device} type="button" className="btn" onClick={() => aside(device)}>
            Set {device} aside
          </button>
        ))}
      </p>
    </section>
  );
}

const NO_SLOT: Schemas["SecretRow"] = {
  device: "",
  slot: "",
  word: "",
  makeable: false,
  version: 0,
  weak: null,
  same_as: null,
  left_open: null,
  undecided: false,
  by: null,
  at: null,
};

const WORDS: Record<string, [string, string]> = {
  connect: ["Compare", "Same"],
  activate: ["Type", "Typed"],
  configure: ["Set", "Typed"],
  confirm: ["Check", "Seen"],
  adapter: ["Set", "Typed"],
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

/** What is done with several values at once, where it is not setting them by the titles of their groups. */
const TOGETHER: Record<string, string> = {
  connect: "Compare the label.",
  confirm: "Check its address and its name.",
  adapter: "Set the laptop's adapter.",
};

/** What is set now, and what is as on the device before. */
function settingOf(titles: string[], like: string | null): string {
  if (titles.length === 0) return `Set the rest as on ${like}.`;
  return `Set ${together(titles)}${like ? `; the rest as on ${like}` : ""}.`;
}

/** The titles of groups in a sentence: "network, identity and clock". */
function together(titles: string[]): string {
  const words = titles.map(lower);
  const last = words.pop() ?? "";
  return words.length ? `${words.join(", ")} and ${last}` : last;
}

function word(step: Step, value: Line): string {
  if (value.secret?.version === 0) return "Left open";
  return WORDS[step.kind]?.[1] ?? "Done";
}

function NextValue({ step, value }: { step: Step; value: Line }) {
  const label = lower(value.label);
  if (value.secret?.version === 0)
    return (
      <>
        The {label} {value.secret.left_open ? "is left open" : "is not saved yet"}
      </>
    );
  return (
    <>
      {WORDS[step.kind]?.[0]} {label}: <span className="font-mono break-all">{value.value}</span>
    </>
  );
}

function place(groups: Group[], value: Line): string {
  const lines = groups.flatMap((group) => group.lines);
  const at = lines.indexOf(value);
  return `${ORDINALS[at] ?? `${at + 1}th`} of ${lines.length} ${lines.length === 1 ? "value" : "values"}`;
}

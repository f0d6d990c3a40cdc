import type { Schemas } from "../../api/client";

type Step = Schemas["StepRow"];
export type Block = {
  id: string;
  hand: number;
  label: string;
  left: number;
  width: number;
  look: "done" | "now" | "next";
};
export type Thread = {
  id: string;
  label: string;
  word: string;
  start: number;
  now: number;
  end: number;
  left_s: number;
  row: number;
};
/** How many may be chosen to work at one bench; more already there stay choosable. */
export function teams(now: number): number[] {
  return Array.from({ length: Math.max(4, now) }, (_, index) => index + 1);
}
type Lane = {
  blocks: Block[];
  threads: Thread[];
  marks: { left: number; label: string; shown: boolean }[];
  now: number;
};
type Stretch = { from: number; to: number; now: number; width: number; rows: number };

const WORDS: Record<string, string> = {
  boot: "booting",
  update: "updating",
  restart: "restarting",
  format: "formatting",
};

/**
 * The stretch of the run around now, in pixels of the lane's width: what hands did, do and will do, and what runs by
 * itself meanwhile. Of the threads that wait for a hand the longest stands lowest, so that they nest.
 */
export function laneOf(
  steps: Step[],
  current: string | undefined,
  view: Stretch,
  clock: (s: number) => string,
): Lane {
  const scale = view.width / (view.to - view.from);
  const at = (seconds: number) => Math.max(0, Math.min(view.width, (seconds - view.from) * scale));
  const blocks = steps
    .filter((step) => step.manual && step.end_s > view.from && step.start_s < view.to)
    .map((step) => ({
      id: step.id,
      hand: step.hand ?? 1,
      label: step.device ?? "Laptop",
      left: at(step.start_s),
      width: Math.max(1, at(step.end_s) - at(step.start_s)),
      look: lookOf(step, current),
    }));
  const taken = new Set(steps.filter((step) => step.manual && step.state !== "open").map((step) => step.id));
  const busy = steps
    .filter((step) => !step.manual && step.end_s > view.from && isOut(step, steps, taken, view))
    .sort((one, other) => one.end_s - other.end_s || one.start_s - other.start_s)
    .slice(0, view.rows);
  const threads = busy.map((step, row) => ({
    id: step.id,
    label: step.device ?? "",
    word: WORDS[step.kind] ?? step.kind,
    start: at(step.start_s),
    now: at(Math.max(step.start_s, Math.min(view.now, step.end_s))),
    end: at(step.end_s),
    left_s: Math.max(0, step.end_s - view.now),
    row,
  }));
  const every = view.to - view.from > 2400 ? 600 : 300;
  const marks = [];
  for (let second = Math.ceil(view.from / every) * every; second < view.to; second += every)
    marks.push({
      left: at(second),
      label: clock(second),
      shown: isClear(at(second), at(view.now), view.width),
    });
  return { blocks, threads, marks, now: at(view.now) };
}

const LABEL = 40;

/** Whether an hour's label, right of its mark, is cut by neither the edge nor the line of now. */
function isClear(left: number, now: number, width: number): boolean {
  return left < width - LABEL && (now < left - 2 || now > left + LABEL);
}

function lookOf(step: Step, current: string | undefined): Block["look"] {
  if (step.state === "done" || step.state === "skipped") return "done";
  return step.id === current || step.state === "doing" ? "now" : "next";
}

/** Whether a device is on its own now: its wait has begun, and nobody has taken it up since. */
function isOut(step: Step, steps: Step[], taken: Set<string>, view: Stretch): boolean {
  if (step.start_s > view.now) return false;
  const next = steps.find(
    (item) => item.manual && item.device === step.device && item.start_s >= step.end_s - 1,
  );
  if (next) return !taken.has(next.id);
  return step.end_s > view.now;
}

/** Seconds as a technician says them: "1 h 52 min", "18 min", "50 s". */
export function spoken(seconds: number): string {
  const minutes = Math.round(seconds / 60);
  if (seconds < 60) return `${Math.round(seconds)} s`;
  const hours = Math.floor(minutes / 60);
  return hours ? `${hours} h ${minutes % 60} min` : `${minutes} min`;
}

/** A countdown: "4 min", and to the second when it is short: "1:05 min", "50 s". */
export function countdown(seconds: number): string {
  const left = Math.ceil(seconds);
  if (left < 60) return `${left} s`;
  if (left < 300) return `${Math.floor(left / 60)}:${String(left % 60).padStart(2, "0")} min`;
  return spoken(left);
}

import type { Schemas } from "../../api/client";

type Step = Schemas["StepRow"];
export type Block = { id: string; label: string; left: number; width: number; look: "done" | "now" | "next" };
export type Thread = { id: string; label: string; left: number; width: number };
export type Lane = { blocks: Block[]; threads: Thread[]; marks: { left: number; label: string }[] };

/** Seconds shown before and after the start of the current step. */
const BEFORE = 300;
const AFTER = 1500;

/** The stretch of the run around the current step, in hundredths of the lane's width. */
export function laneOf(steps: Step[], current: Step): Lane {
  const from = Math.max(0, current.start_s - BEFORE);
  const to = from + BEFORE + AFTER;
  const scale = 100 / (to - from);
  const seen = steps.filter((step) => step.end_s > from && step.start_s < to);
  const at = (step: Step) => {
    const left = Math.max(step.start_s, from);
    return { left: (left - from) * scale, width: (Math.min(step.end_s, to) - left) * scale };
  };
  const blocks = seen
    .filter((step) => step.hands)
    .map((step) => ({
      id: step.id,
      label: step.device ?? "Laptop",
      look: (step.id === current.id ? "now" : step.state === "open" ? "next" : "done") as Block["look"],
      ...at(step),
    }));
  const threads = seen
    .filter((step) => !step.hands)
    .map((step) => ({ id: step.id, label: step.title, ...at(step) }));
  const marks = [];
  for (let minute = Math.ceil(from / 300) * 5; minute * 60 < to; minute += 5)
    marks.push({ left: (minute * 60 - from) * scale, label: `${minute} min` });
  return { blocks, threads, marks };
}

/** Seconds as a technician says them: "1 h 52 min", "18 min", "50 s". */
export function spoken(seconds: number): string {
  const minutes = Math.round(seconds / 60);
  if (seconds < 60) return `${Math.round(seconds)} s`;
  const hours = Math.floor(minutes / 60);
  return hours ? `${hours} h ${minutes % 60} min` : `${minutes} min`;
}

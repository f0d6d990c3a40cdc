import { useLayoutEffect, useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { countdown, laneOf } from "./lane";

type Step = Schemas["StepRow"];

const TOP = 18;
const HANDS = 24;
const ROW = 18;
const FILL = { done: "fill-kelp-wash", now: "fill-kelp", next: "fill-paper" };
const INK = { done: "fill-kelp", now: "fill-on-fill", next: "fill-slate" };

/** The run around now: a lane for each technician's technicians, a thread for each device that works by itself. */
export function RunLane({
  steps,
  current,
  now,
  technicians,
  hand,
  clock,
  narrow,
}: {
  steps: Step[];
  current: string | undefined;
  now: number;
  technicians: number;
  hand: number;
  clock: (seconds: number) => string;
  narrow: boolean;
}) {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(600);
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setWidth(element.clientWidth));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const margin = narrow ? 108 : 188;
  const before = narrow ? 60 : 1200;
  const from = Math.max(0, now - before);
  const view = { from, to: from + (narrow ? 1200 : 2700), now, width: width - margin, rows: narrow ? 2 : 3 };
  const lane = laneOf(steps, current, view, clock);
  const threadsAt = TOP + technicians * (HANDS + 4) + 4;
  const height = threadsAt + Math.max(1, lane.threads.length) * ROW + 2;
  return (
    <div ref={box} className="min-w-0">
      <svg width={width} height={height} aria-hidden="true" className="block text-note">
        <g transform={`translate(${margin} 0)`}>
          {lane.marks.map((mark) => (
            <g key={mark.label}>
              <line x1={mark.left} x2={mark.left} y1={TOP} y2={height} className="stroke-hair" />
              {mark.shown && (
                <text x={mark.left + 3} y={12} className="fill-ink-2 font-mono text-cell">
                  {mark.label}
                </text>
              )}
            </g>
          ))}
          {lane.blocks.map((block) => {
            const y = TOP + (block.hand - 1) * (HANDS + 4);
            return (
              <g key={block.id}>
                <rect
                  x={block.left}
                  y={y}
                  width={Math.max(1, block.width - 1.5)}
                  height={HANDS}
                  className={`${FILL[block.look]} ${block.look === "next" ? "stroke-slate" : ""}`}
                  strokeDasharray={block.look === "next" ? "3 3" : undefined}
                />
                {block.width > block.label.length * 7.6 + 10 && (
                  <text
                    x={block.left + 6}
                    y={y + 17}
                    className={`${INK[block.look]} text-note ${block.look === "now" ? "font-bold" : "font-semibold"}`}
                  >
                    {block.label}
                  </text>
                )}
              </g>
            );
          })}
          {lane.threads.map((thread) => {
            const y = threadsAt + thread.row * ROW + 8;
            const under = threadsAt - 6;
            const open = thread.end < view.width;
            return (
              <g key={thread.id}>
                <path
                  d={`M${thread.start} ${under}V${y - 4}Q${thread.start} ${y} ${thread.start + 4} ${y}H${thread.now}`}
                  className="fill-none stroke-ink"
                  strokeWidth="2.5"
                />
                <path
                  d={`M${thread.now} ${y}H${thread.end}${open ? `V${under}` : ""}`}
                  className="fill-none stroke-ink"
                  strokeWidth="1.5"
                  strokeDasharray="2 4"
                />
                {open && (
                  <path d={`M${thread.end - 4} ${under + 5}h8l-4 -7Z`} className="fill-ink" stroke="none" />
                )}
              </g>
            );
          })}
          <line
            x1={lane.now}
            x2={lane.now}
            y1={0}
            y2={height}
            className="stroke-brass-fill"
            strokeWidth="2"
          />
        </g>
        {Array.from({ length: technicians }, (_, index) => (
          <text
            // biome-ignore lint/suspicious/noArrayIndexKey: a hand is its number
            key={index}
            x={margin - 10}
            y={TOP + index * (HANDS + 4) + 17}
            textAnchor="end"
            className="fill-ink text-small font-semibold"
          >
            {technicians === 1 || index + 1 === hand ? "Your hands" : `Technician ${index + 1}`}
          </text>
        ))}
        {lane.threads.map((thread) => (
          <text
            key={thread.id}
            x={margin - 10}
            y={threadsAt + thread.row * ROW + 12}
            textAnchor="end"
            className="fill-ink text-note"
          >
            <tspan className="font-semibold">{thread.label}</tspan>{" "}
            {!narrow && thread.left_s > 0 && <tspan className="fill-ink-2">{thread.word} </tspan>}
            <tspan className="font-semibold">{thread.left_s > 0 ? countdown(thread.left_s) : "ready"}</tspan>
          </text>
        ))}
      </svg>
    </div>
  );
}

import type { ReactNode } from "react";
import { Caution } from "../../parts/Caution";
import type { Sheet, Trial, Whole } from "./Recording";
import { rate } from "./words";

/** The shares that are reckoned with: part of the document, title, name, words behind it, limits in %, why (null: as the
 * core advises of motion). */
const SHARES: [string, string, string, string, { least?: number; most?: number }, string | null][] = [
  ["motion_share", "Motion", "Motion is taken as", "of the time", {}, null],
  [
    "alarm_share",
    "Alarm contacts",
    "Alarm is taken as",
    "of the time",
    {},
    "How much of the time a contact keeps a recording going.",
  ],
  [
    "usable_share",
    "Room on a disk",
    "Usable share",
    "usable",
    { least: 1 },
    "What is left after formatting and the recorder’s own tables.",
  ],
  [
    "reserve_share",
    "Reserve",
    "Reserve",
    "on top",
    { most: 1000 },
    "On top of what is promised, when disks are proposed.",
  ],
];

/** What holds for every channel that says nothing else: files, full disks, sound, motion, and what is reckoned with. */
export function Rules({ shown, whole, trial }: { shown: Sheet; whole: Whole; trial: Trial }) {
  const set = (parts: Record<string, unknown>) => trial.change({ recording: { ...whole, ...parts } });
  const now = { ...shown.whole, ...whole } as Record<string, string | number | boolean | null>;
  const lengths = [...new Set([15, 30, 60, 120, Number(now.file_min)])].sort((one, two) => one - two);
  return (
    <section aria-label="Files, disks and sound" className="border-t-2 border-ink">
      <Row title="File length" why={`${shown.file_advice} ${sizes(shown)}`}>
        <select
          aria-label="File length"
          className="box"
          value={String(now.file_min)}
          onChange={(event) => set({ file_min: Number(event.target.value) })}
        >
          {lengths.map((minutes) => (
            <option key={minutes} value={minutes}>
              {minutes} min
            </option>
          ))}
        </select>
      </Row>
      <Row title="When the disk is full" why={shown.full_advice}>
        <select
          aria-label="When the disk is full"
          className="box"
          value={String(now.disk_full)}
          onChange={(event) => set({ disk_full: event.target.value })}
        >
          <option value="overwrite">overwrite the oldest</option>
          <option value="stop">stop recording</option>
        </select>
      </Row>
      <Row
        title="Sound"
        why={
          shown.sound === "forbidden"
            ? "It may not be recorded here, the survey says."
            : shown.sound === "allowed"
              ? "It may be recorded here, the survey says."
              : "Whether it may be recorded here is not known: ask in the survey."
        }
      >
        <label className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            checked={now.audio === true}
            onChange={(event) => set({ audio: event.target.checked })}
          />
          record sound, {now.audio_kbps} kbit/s
        </label>
      </Row>
      {now.audio === true && (
        <div className="py-2">
          <Caution>{shown.sound_caution}</Caution>
        </div>
      )}
      <Row
        title="Stream"
        why="The main stream is what faces and plates are read from; both need the most room."
      >
        <select
          aria-label="Stream that is recorded"
          className="box"
          value={String(now.stream)}
          onChange={(event) => set({ stream: event.target.value })}
        >
          <option value="main">main stream</option>
          <option value="sub">sub stream</option>
          <option value="both">both</option>
        </select>
      </Row>
      {SHARES.map(([part, title, name, words, limits, why]) => (
        <Row key={part} title={title} why={why ?? shown.motion_advice}>
          <Share name={name} value={Number(now[part])} {...limits} set={(share) => set({ [part]: share })}>
            {words}
          </Share>
        </Row>
      ))}
      <Row
        title="Days promised"
        why="What the customer was told, and what the law here allows at most: ask who decides."
      >
        <label className="flex items-center gap-2">
          <input
            className="box w-24 font-mono"
            inputMode="numeric"
            aria-label="Days promised"
            defaultValue={shown.retention_days ?? ""}
            key={shown.retention_days ?? ""}
            onBlur={(event) => {
              const days = Number(event.target.value);
              if (Number.isInteger(days) && days > 0 && days !== shown.retention_days)
                trial.change({ retention_days: days });
            }}
          />
          days
        </label>
      </Row>
    </section>
  );
}

/** How large a file is at each rate, and how many there are a day. */
function sizes(shown: Sheet): string {
  const channels = shown.recorders.flatMap((item) => item.channels);
  const found = new Map<string, string>();
  for (const item of channels)
    if (item.kbps !== null && item.file_bytes !== null)
      found.set(rate(item.kbps), `${(item.file_bytes / 1e9).toFixed(1)} GB at ${rate(item.kbps)}`);
  return found.size ? `${[...found.values()].slice(0, 4).join(", ")}.` : "";
}

function Row({ title, why, children }: { title: string; why: string; children: ReactNode }) {
  return (
    <div className="grid items-center gap-x-4 gap-y-1 border-b border-hair py-2 md:grid-cols-[150px_260px_minmax(0,1fr)]">
      <h2 className="font-semibold">{title}</h2>
      <div>{children}</div>
      <p className="text-small text-ink-2">{why}</p>
    </div>
  );
}

function Share({
  name,
  value,
  set,
  children,
  least = 0,
  most = 100,
}: {
  name: string;
  value: number;
  set: (share: number) => void;
  children: ReactNode;
  least?: number;
  most?: number;
}) {
  const shown = String(Math.round(value * 10_000) / 100);
  return (
    <label className="flex items-center gap-2">
      <input
        key={shown}
        className="box w-24 font-mono"
        inputMode="decimal"
        aria-label={name}
        defaultValue={shown}
        onBlur={(event) => {
          const typed = Number(event.target.value.replace(",", "."));
          if (event.target.value.trim() !== "" && typed >= least && typed <= most) {
            if (typed !== Number(shown)) set(Math.round(typed * 100) / 10_000);
          } else event.target.value = shown;
        }}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      />
      % {children}
    </label>
  );
}

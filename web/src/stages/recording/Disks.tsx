import { useState } from "react";
import type { Recorder, Sheet, Trial } from "./Recording";
import { days } from "./words";

const RAIDS = ["none", "0", "1", "5", "6", "10"];
type Typed = { bay: number; tb: string; serial: string; formatted: boolean };

/** The disks of a recorder: in one line, and bay by bay where they are changed. */
export function Disks({ recorder, shown, trial }: { recorder: Recorder; shown: Sheet; trial: Trial }) {
  const whole = `${recorder.disks.length === 0 ? "No disk is known" : said(recorder)}`;
  const usable = Number(shown.whole.usable_share);
  return (
    <details className="group border-t border-hair">
      <summary className="flex min-h-11 cursor-pointer items-center justify-between gap-2 text-list">
        <span>
          <b className="font-semibold">{whole}</b>
          {recorder.disks.length > 0 && (
            <span className="block text-note text-ink-2">
              {Math.round(usable * 100)} % usable: {(recorder.usable_bytes / 1e12).toFixed(2)} TB
            </span>
          )}
        </span>
        <span className="text-small underline underline-offset-4">Change</span>
      </summary>
      <Bays key={JSON.stringify(recorder.disks)} recorder={recorder} trial={trial} />
    </details>
  );
}

function said(recorder: Recorder): string {
  const sizes = [...new Set(recorder.disks.map((disk) => disk.tb))];
  const each = sizes.map((tb) => `${recorder.disks.filter((disk) => disk.tb === tb).length} × ${tb} TB`);
  return `${each.join(" and ")}${recorder.raid === "none" ? "" : `, RAID ${recorder.raid}`}`;
}

function Bays({ recorder, trial }: { recorder: Recorder; trial: Trial }) {
  const bays = Math.max(
    recorder.bays ?? 1,
    recorder.disks.length,
    ...recorder.disks.map((disk) => disk.bay ?? 0),
  );
  const [typed, setTyped] = useState<Typed[]>(() =>
    Array.from({ length: bays }, (_, at) => {
      const disk =
        recorder.disks.find((item) => item.bay === at + 1) ??
        (recorder.disks[at]?.bay == null ? recorder.disks[at] : undefined);
      return {
        bay: at + 1,
        tb: disk ? String(disk.tb) : "",
        serial: disk?.serial ?? "",
        formatted: disk?.formatted ?? false,
      };
    }),
  );
  const number = (text: string) => Number(text.replace(",", "."));
  const wrong = typed.find((item) => item.tb.trim() !== "" && !(number(item.tb) > 0));
  function store(rows: Typed[]) {
    setTyped(rows);
    if (rows.some((item) => item.tb.trim() !== "" && !(number(item.tb) > 0))) return;
    const disks = rows
      .filter((item) => item.tb.trim() !== "")
      .map((item) => {
        const old = recorder.disks.find((disk) => disk.bay === item.bay);
        return {
          bay: item.bay,
          tb: number(item.tb),
          ...(old?.model ? { model: old.model } : {}),
          ...(item.serial.trim() ? { serial: item.serial.trim() } : {}),
          ...(item.formatted ? { formatted: true } : {}),
        };
      });
    trial.changeDevice(recorder.key, { disks });
  }
  const change = (at: number, parts: Partial<Typed>) =>
    setTyped(typed.map((item, one) => (one === at ? { ...item, ...parts } : item)));
  const best = recorder.propose;
  return (
    <div className="pb-3">
      {typed.map((item, at) => (
        <fieldset key={item.bay} className="flex flex-wrap items-end gap-2 border-b border-hair py-2">
          <legend className="float-left w-14 pt-2 text-small font-semibold">Bay {item.bay}</legend>
          <label className="grid text-cell text-ink-2">
            TB as sold
            <input
              className="box min-h-11 w-18 px-2 font-mono text-ink"
              inputMode="decimal"
              value={item.tb}
              placeholder="empty"
              onChange={(event) => change(at, { tb: event.target.value })}
              onBlur={() => store(typed)}
              onKeyDown={(event) => event.key === "Enter" && store(typed)}
            />
          </label>
          <label className="grid min-w-0 flex-1 text-cell text-ink-2">
            Serial number
            <input
              className="box min-h-11 w-full min-w-20 px-2 font-mono text-ink"
              value={item.serial}
              maxLength={200}
              onChange={(event) => change(at, { serial: event.target.value })}
              onBlur={() => item.tb.trim() && store(typed)}
            />
          </label>
          <label className="flex min-h-11 basis-full items-center gap-2 text-small">
            <input
              type="checkbox"
              checked={item.formatted}
              disabled={item.tb.trim() === ""}
              onChange={(event) =>
                store(
                  typed.map((one, place) =>
                    place === at ? { ...one, formatted: event.target.checked } : one,
                  ),
                )
              }
            />
            formatted
            {recorder.disks[at] ? `; the device shows ${recorder.disks[at].shown.split("shows as ")[1]}` : ""}
          </label>
        </fieldset>
      ))}
      {wrong && (
        <p role="alert" className="pt-1 text-small font-semibold text-red">
          Bay {wrong.bay}: “{wrong.tb}” is no size of a disk; TB as sold are expected, like 8.
        </p>
      )}
      <div className="flex flex-wrap items-end gap-3 pt-2">
        <label className="grid text-cell text-ink-2">
          RAID level
          <select
            className="box min-h-11 text-ink"
            value={recorder.raid}
            onChange={(event) => trial.changeDevice(recorder.key, { raid: event.target.value })}
          >
            {RAIDS.map((raid) => (
              <option key={raid} value={raid}>
                {raid === "none" ? "none" : `RAID ${raid}`}
              </option>
            ))}
          </select>
        </label>
        {best && (
          <button
            type="button"
            className="btn"
            onClick={() =>
              trial.changeDevice(recorder.key, { disks: best.disks.map((tb, at) => ({ bay: at + 1, tb })) })
            }
          >
            Take {best.disks.length} × {best.disks[0]} TB
            <span className="font-normal text-ink-2">{days(best.days)}</span>
          </button>
        )}
      </div>
    </div>
  );
}

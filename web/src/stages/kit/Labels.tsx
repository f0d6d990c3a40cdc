import { type FormEvent, useEffect, useRef, useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useChange } from "../../api/site";
import { LargeDialog } from "../../parts/Dialog";
import { Trouble } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";
import { Camera } from "./Camera";
import type { Sheet } from "./columns";
import { useEdits } from "./useEdits";

type Said = Schemas["ScanResult"] & { number: number };

/** Labels one after the other: a scanner that types, the camera, or the keyboard fill the device in hand. */
export function Labels({
  sheet,
  close,
  startAt,
}: {
  sheet: Sheet;
  close: () => void;
  startAt: string | null;
}) {
  const [taken, setHand] = useState<string | null>(startAt); // null: whichever label is to be read next
  const [typed, setTyped] = useState("");
  const [said, setSaid] = useState<Said[]>([]);
  const [filming, setFilming] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const edits = useEdits();
  const unread = sheet.devices.filter((item) => !item.mac || !item.serial).map((item) => item.key);
  const hand = taken ?? unread[0] ?? sheet.devices[0]?.key ?? null;
  const device = sheet.devices.find((item) => item.key === hand);
  const scan = useChange((key, body: Schemas["ScanText"]) =>
    ask(client.POST("/api/sites/{key}/kit/scan", { params: { path: { key } }, body })),
  );
  const left = unread.length;
  useEffect(() => {
    input.current?.focus();
  }, []);

  function read(text: string) {
    if (!text.trim()) return;
    scan.mutate(
      { text: text.slice(0, 2000), device: hand },
      {
        onSuccess: (found) => {
          setSaid((before) => [{ ...found, number: (before[0]?.number ?? 0) + 1 }, ...before].slice(0, 8));
          if (!found.fits || !device || found.device) return;
          const change = {
            ...(found.mac ? { mac: found.mac } : {}),
            ...(found.serial ? { serial: found.serial } : {}),
          };
          edits.apply([{ device: device.key, change }], `label of ${device.name ?? device.key}`);
          if ((found.mac ?? device.mac) && (found.serial ?? device.serial)) setHand(null);
        },
      },
    );
  }
  function submit(event: FormEvent) {
    event.preventDefault();
    read(typed);
    setTyped("");
    input.current?.focus();
  }
  const last = said[0];
  return (
    <LargeDialog title="Read labels" close={close}>
      <p className="text-ink-2">
        {left === 0
          ? "All labels are scanned."
          : `${left} ${left === 1 ? "label is" : "labels are"} still to be read.`}
      </p>
      {device && (
        <div className="mt-3 border-l-4 border-brass-fill bg-brass-wash px-4 py-3">
          <p className="text-small font-semibold text-brass">In your hand</p>
          <p className="text-lead font-semibold break-words">{device.name ?? device.key}</p>
          <p className="text-small text-ink-2">
            {[device.key, device.place, sheet.models.find((model) => model.key === device.model)?.label]
              .filter(Boolean)
              .join(" · ")}
          </p>
          <dl className="mt-2 grid grid-cols-[9rem_1fr] font-mono">
            <dt className="font-sans text-small text-ink-2">Hardware address</dt>
            <dd>{device.mac ?? "not read"}</dd>
            <dt className="font-sans text-small text-ink-2">Serial number</dt>
            <dd>{device.serial ?? "not read"}</dd>
          </dl>
        </div>
      )}
      <form onSubmit={submit} className="mt-4 grid gap-3">
        <label className="grid gap-1">
          Scan or type a code, then Enter
          <input
            ref={input}
            className="box font-mono text-value"
            value={typed}
            autoComplete="off"
            spellCheck={false}
            onChange={(event) => setTyped(event.target.value)}
          />
        </label>
        <div className="flex flex-wrap gap-3">
          <button type="submit" className="btn btn-main" disabled={scan.isPending}>
            Take it
          </button>
          <button type="button" className="btn" onClick={() => setFilming(!filming)}>
            {filming ? "Camera off" : "Use the camera"}
          </button>
          <label className="flex items-center gap-2 text-small">
            Device in hand
            <select
              className="box max-w-60"
              value={hand ?? ""}
              onChange={(event) => setHand(event.target.value)}
            >
              {sheet.devices.map((item) => (
                <option key={item.key} value={item.key}>
                  {unread.includes(item.key) ? "○ " : ""}
                  {item.name ?? item.key}
                </option>
              ))}
            </select>
          </label>
        </div>
      </form>
      {filming && <Camera read={read} />}
      {(scan.error ?? edits.error) && (
        <div className="mt-3">
          <Trouble error={(scan.error ?? edits.error) as Error} />
        </div>
      )}
      <div aria-live="polite">
        {last && (
          <p className={`mt-4 flex items-start gap-2 font-semibold ${last.fits ? "" : "text-red"}`}>
            <Mark name={last.fits ? "set" : "broken"} /> {last.sentence}
          </p>
        )}
        {last?.device && last.device !== hand && (
          <button type="button" className="btn mt-2" onClick={() => setHand(last.device)}>
            That is the box in my hand
          </button>
        )}
      </div>
      <ol className="mt-2 text-small text-ink-2">
        {said.slice(1).map((item) => (
          <li key={item.number}>{item.sentence}</li>
        ))}
      </ol>
    </LargeDialog>
  );
}

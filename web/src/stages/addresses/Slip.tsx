import { type FormEvent, type ReactNode, useState } from "react";
import type { Schemas } from "../../api/client";
import { Mark, type MarkName, State } from "../../parts/Mark";
import { Trouble } from "../../parts/Notes";
import type { Cell } from "./cells";
import { cellWord } from "./Sheet";
import type { useDeviceChange } from "./useDeviceChange";

type Placed = Schemas["Placed"];
type Network = Schemas["NetworkSheet"];

const STATE_MARKS: Record<string, MarkName> = {
  planned: "planned",
  unplanned: "planned",
  set: "set",
  proven: "proven",
  broken: "broken",
  clash: "clash",
};
const SOURCES = {
  locked: "The address is locked. Unlock it to move the device.",
  kept: "The address can still be moved.",
  planned: "Only planned: nothing is set before you say so.",
};

/** The slip of the selected cell: what stands there, why, and what may be done with it. */
export function Slip({
  network,
  cell,
  change,
}: {
  network: Network;
  cell: Cell | null;
  change: ReturnType<typeof useDeviceChange>;
}) {
  return (
    <aside aria-label="Selected address" className="slip w-full self-start xl:w-82 xl:shrink-0">
      {cell?.device ? (
        <DeviceSlip key={cell.device.key} device={cell.device} network={network} change={change} />
      ) : cell ? (
        <>
          <BigAddress address={cell.address} prefix={network.prefix} />
          <p className="mt-2">{cellWord(cell)}</p>
          {cell.why && <p className="text-ink-2">{cell.why}</p>}
        </>
      ) : (
        <p className="text-ink-2">Choose a cell to see what stands there and why.</p>
      )}
    </aside>
  );
}

function BigAddress({ address, prefix }: { address: string; prefix: number }) {
  const cut = prefix >= 24 ? address.lastIndexOf(".") + 1 : address.split(".", 2).join(".").length + 1;
  return (
    <p className="font-mono text-[34px] leading-10 tracking-tighter">
      <span className="text-ink-2">{address.slice(0, cut)}</span>
      <b>{address.slice(cut)}</b>
    </p>
  );
}

function DeviceSlip({
  device,
  network,
  change,
}: {
  device: Placed;
  network: Network;
  change: ReturnType<typeof useDeviceChange>;
}) {
  const [moving, setMoving] = useState(false);
  const [address, setAddress] = useState(device.address);
  const set = (changes: { address?: string; locked?: boolean }) =>
    change.mutate(
      { device: device.key, revision: device.revision, ...changes },
      { onSuccess: () => setMoving(false) },
    );

  function move(event: FormEvent) {
    event.preventDefault();
    set({ address: address.trim() });
  }
  return (
    <>
      <div className="flex items-start justify-between gap-3">
        <h2 className="text-lead font-semibold break-words">{device.name}</h2>
        <State name={STATE_MARKS[device.state] ?? "planned"}>{device.state}</State>
      </div>
      <p className="text-ink-2">
        {device.place ?? "No place"}, <span className="font-mono text-small">{device.key}</span>
      </p>
      <div className="mt-4">
        <BigAddress address={device.address} prefix={network.prefix} />
        <dl className="mt-1 grid grid-cols-[80px_1fr] text-small">
          <dt className="text-ink-2">mask</dt>
          <dd className="font-mono">{network.mask}</dd>
          <dt className="text-ink-2">{network.recorder ? "recorder" : "gateway"}</dt>
          <dd className="font-mono">{network.gateway ?? "none"}</dd>
        </dl>
      </div>
      <SlipPart title="Why this address">
        <p className="border-b border-hair py-2">{device.why}</p>
        <p className="flex items-start gap-2 py-2">
          <span className="mt-1">
            <Mark name={device.locked ? "lock" : "unlock"} />
          </span>
          {SOURCES[device.source]}
        </p>
      </SlipPart>
      {change.error && <Trouble error={change.error} />}
      {moving ? (
        <form onSubmit={move} className="mt-3 grid gap-2">
          <label className="grid gap-1 font-semibold">
            New address
            <input
              className="box font-mono text-lead"
              value={address}
              inputMode="decimal"
              autoComplete="off"
              onChange={(event) => setAddress(event.target.value)}
            />
          </label>
          <div className="flex gap-3">
            <button type="submit" className="btn btn-main" disabled={change.isPending}>
              Move it
            </button>
            <button type="button" className="btn" onClick={() => setMoving(false)}>
              Leave it
            </button>
          </div>
        </form>
      ) : (
        <div className="mt-3 flex flex-wrap gap-3">
          <button type="button" className="btn" onClick={() => setMoving(true)} disabled={device.locked}>
            Move it…
          </button>
          {device.source !== "planned" && (
            <button
              type="button"
              className="btn"
              disabled={change.isPending}
              onClick={() => set({ locked: !device.locked })}
            >
              {device.locked ? "Unlock" : "Lock"}
            </button>
          )}
        </div>
      )}
    </>
  );
}

function SlipPart({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="mt-4">
      <h3 className="text-small font-semibold text-ink-2">{title}</h3>
      {children}
    </section>
  );
}

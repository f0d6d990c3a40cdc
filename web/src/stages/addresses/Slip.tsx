import { type FormEvent, type ReactNode, useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useChange } from "../../api/site";
import { DeviceLink } from "../../parts/DeviceLink";
import { Trouble } from "../../parts/Feedback";
import { Mark, type MarkName, State } from "../../parts/Mark";
import type { useDeviceChange } from "../../parts/useDeviceChange";
import { cellWord } from "./AddressGrid";
import type { Cell } from "./cells";
import { Moving } from "./Moving";

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
const KIND_WHY: Record<string, string> = {
  edge: "No device can have it: it names the network as a whole, or everybody in it.",
  gateway: "The way out of the network; no device of ours may have it.",
  dns: "It answers names; no device of ours may have it.",
  pool: "In the DHCP pool: a fixed device here would clash with a leased one some day.",
  kept: "IT keeps it; the plan goes round it.",
  free: "Nothing stands here. The plan fills each family’s block from its start, in walking order.",
};

/** The slip of the selected cell: what stands there, why, and what may be done with it. */
export function Slip({
  network,
  cell,
  change,
  revision,
  moving,
  setMoving,
}: {
  network: Network;
  cell: Cell | null;
  change: ReturnType<typeof useDeviceChange>;
  revision: number;
  moving: { device: string; address: string } | null;
  setMoving: (moving: { device: string; address: string } | null) => void;
}) {
  const mover = moving && network.devices.find((device) => device.key === moving.device);
  const shown = mover ?? cell?.device;
  return (
    <aside aria-label="Selected address" className="slip w-full self-start xl:w-82 xl:shrink-0">
      {shown ? (
        <DeviceSlip
          key={shown.key}
          device={shown}
          network={network}
          change={change}
          moving={moving?.address ?? null}
          setMoving={(address) => setMoving(address === null ? null : { device: shown.key, address })}
        />
      ) : cell ? (
        <EmptySlip key={cell.number} cell={cell} network={network} revision={revision} />
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

/** A cell without a device: why it is as it is, and keeping it free for others. */
function EmptySlip({ cell, network, revision }: { cell: Cell; network: Network; revision: number }) {
  const [last, setLast] = useState(cell.address);
  const [why, setWhy] = useState("");
  const path = (key: string) => ({ path: { key, network: network.key } });
  const keep = useChange((key, body: Schemas["KeepFree"]) =>
    ask(client.POST("/api/sites/{key}/networks/{network}/keep", { params: path(key), body })),
  );
  const giveBack = useChange((key, body: Schemas["KeepFree"]) =>
    ask(client.POST("/api/sites/{key}/networks/{network}/give-back", { params: path(key), body })),
  );
  const error = keep.error ?? giveBack.error;
  return (
    <>
      <BigAddress address={cell.address} prefix={network.prefix} />
      <p className="mt-2 font-semibold">{cellWord(cell)}</p>
      {cell.why && <p className="text-ink-2">{cell.why}</p>}
      <SlipPart title="Why">
        <p className="py-2">{KIND_WHY[cell.kind]}</p>
      </SlipPart>
      {cell.kind === "kept" && !network.recorder && (
        <button
          type="button"
          className="btn mt-2"
          disabled={giveBack.isPending}
          onClick={() => giveBack.mutate({ revision, first: cell.address, last: cell.address, why: "" })}
        >
          Give it back to the plan
        </button>
      )}
      {cell.kind === "free" && !network.recorder && (
        <form
          className="mt-2 grid gap-2"
          aria-label="Keep it free"
          onSubmit={(event) => {
            event.preventDefault();
            keep.mutate({ revision, first: cell.address, last: last.trim(), why });
          }}
        >
          <label className="grid gap-1 text-small">
            Keep it free for others, up to
            <input
              className="box font-mono"
              value={last}
              autoComplete="off"
              onChange={(event) => setLast(event.target.value)}
            />
          </label>
          <label className="grid gap-1 text-small">
            For what
            <input className="box" value={why} onChange={(event) => setWhy(event.target.value)} />
          </label>
          <button type="submit" className="btn justify-self-start" disabled={keep.isPending}>
            Keep it free
          </button>
        </form>
      )}
      {error && <Trouble error={error} />}
    </>
  );
}

function DeviceSlip({
  device,
  network,
  change,
  moving,
  setMoving,
}: {
  device: Placed;
  network: Network;
  change: ReturnType<typeof useDeviceChange>;
  moving: string | null;
  setMoving: (address: string | null) => void;
}) {
  const set = (changes: { address?: string; locked?: boolean; addressing?: string }) =>
    change.mutate(
      { device: device.key, revision: device.revision, ...changes },
      { onSuccess: () => setMoving(null) },
    );

  function move(event: FormEvent) {
    event.preventDefault();
    if (moving) set({ address: moving.trim() });
  }
  return (
    <>
      <div className="flex items-start justify-between gap-3">
        <h2 className="min-w-0 text-lead font-semibold break-words">
          <DeviceLink device={device.key}>{device.name}</DeviceLink>
        </h2>
        <State name={STATE_MARKS[device.state] ?? "planned"}>{device.state}</State>
      </div>
      <p className="text-ink-2">
        {device.place ?? "No place"}, <span className="font-mono text-small">{device.key}</span>
      </p>
      <div className="mt-3">
        <BigAddress address={device.address} prefix={network.prefix} />
        <dl className="mt-1 grid grid-cols-[80px_1fr] text-small">
          <dt className="text-ink-2">mask</dt>
          <dd className="font-mono">{network.mask}</dd>
          <dt className="text-ink-2">{network.recorder ? "recorder" : "gateway"}</dt>
          <dd className="font-mono">{network.gateway ?? "none"}</dd>
        </dl>
      </div>
      {moving === null && (
        <SlipPart title="Why this address">
          <p className="border-b border-hair py-2">{device.why}</p>
          <p className="flex items-start gap-2 py-2">
            <span className="mt-1">
              <Mark name={device.locked ? "lock" : "unlock"} />
            </span>
            {SOURCES[device.source]}
          </p>
        </SlipPart>
      )}
      {change.error && <Trouble error={change.error} />}
      {moving !== null ? (
        <Moving device={device} address={moving} type={setMoving} move={move} busy={change.isPending} />
      ) : (
        <div className="mt-2 flex flex-wrap items-end gap-2">
          <button
            type="button"
            className="btn"
            onClick={() => setMoving(device.address)}
            disabled={device.locked}
          >
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
          {!network.recorder && (
            <label className="grid gap-0.5 text-small">
              Its address is
              <select
                className="box"
                value={device.addressing}
                disabled={change.isPending || device.locked}
                onChange={(event) => set({ addressing: event.target.value })}
              >
                <option value="fixed">fixed on it</option>
                <option value="reserved">reserved</option>
                <option value="leased">leased</option>
              </select>
            </label>
          )}
        </div>
      )}
    </>
  );
}

function SlipPart({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="mt-3">
      <h3 className="text-small font-semibold text-ink-2">{title}</h3>
      {children}
    </section>
  );
}

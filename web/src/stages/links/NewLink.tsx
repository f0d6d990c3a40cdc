import { type FormEvent, useState } from "react";
import type { Schemas } from "../../api/client";
import { useFrame } from "../../api/site";
import { LargeDialog } from "../../parts/Dialog";
import { upper } from "../../parts/words";
import { useAddLink } from "./useLink";
import { WantedAnyway } from "./WantedAnyway";

const OUTSIDE: Record<string, string> = {
  relay: "The makers’ relay",
  "monitoring-station": "The monitoring station",
  "call-server": "A call server outside",
  management: "A management program outside",
};

/** A new link: its kind first, then the devices that can have it. */
export function NewLink({
  kinds,
  start,
  close,
}: {
  kinds: Schemas["KindRow"][];
  start: string | null;
  close: () => void;
}) {
  const frame = useFrame();
  const devices = frame.data?.devices ?? [];
  const begun = devices.find((device) => device.key === start);
  const [chosen, setChosen] = useState(
    kinds.find((kind) => begun && kind.starts.includes(begun.family))?.key ?? kinds[0]?.key ?? "",
  );
  const [from, setFrom] = useState(start ?? "");
  const [to, setTo] = useState("");
  const [number, setNumber] = useState("");
  const [channel, setChannel] = useState("");
  const add = useAddLink();
  const kind = kinds.find((item) => item.key === chosen);
  if (!kind) return null;
  const starts = devices.filter((device) => kind.starts.includes(device.family));
  const ends = devices.filter(
    (device) => device.key !== from && (kind.ends === null || kind.ends.includes(device.family)),
  );
  const encoder = starts.find((device) => device.key === from)?.family === "encoder";

  function store(wanted: boolean) {
    if (!kind) return;
    add.mutate(
      {
        kind: kind.word,
        start: from,
        to,
        slot: number === "" || wanted ? null : Number(number),
        wanted: wanted || null,
        from_channel: encoder && channel !== "" ? Number(channel) : null,
      },
      { onSuccess: close },
    );
  }
  function submit(event: FormEvent) {
    event.preventDefault();
    store(false);
  }
  const label = "grid min-w-0 gap-1 text-small font-semibold";
  return (
    <LargeDialog title="A new link" close={close}>
      <form onSubmit={submit} className="mt-3 grid gap-3">
        <label className={label}>
          Kind
          <select
            className="box font-normal"
            value={chosen}
            onChange={(event) => {
              setChosen(event.target.value);
              setTo("");
            }}
          >
            {[...new Set(kinds.map((item) => item.group))].map((group) => (
              <optgroup key={group} label={group}>
                {kinds
                  .filter((item) => item.group === group)
                  .map((item) => (
                    <option key={item.key} value={item.key}>
                      {item.title}
                    </option>
                  ))}
              </optgroup>
            ))}
          </select>
        </label>
        <label className={label}>
          From
          <select className="box font-normal" value={from} onChange={(event) => setFrom(event.target.value)}>
            <option value="">choose a device</option>
            {starts.map((device) => (
              <option key={device.key} value={device.key}>
                {device.name}
              </option>
            ))}
          </select>
        </label>
        {starts.length === 0 && (
          <p className="text-small text-ink-2">The kit has no device that can begin it.</p>
        )}
        <label className={label}>
          To
          <select className="box font-normal" value={to} onChange={(event) => setTo(event.target.value)}>
            <option value="">choose where it leads</option>
            {kind.outside.map((end) => (
              <option key={end} value={end}>
                {OUTSIDE[end] ?? end}
              </option>
            ))}
            {ends.map((device) => (
              <option key={device.key} value={device.key}>
                {device.name}
              </option>
            ))}
          </select>
        </label>
        {encoder && (
          <label className={label}>
            Channel of the encoder
            <input
              className="box font-mono font-normal"
              inputMode="numeric"
              value={channel}
              onChange={(event) => setChannel(event.target.value.replace(/\D/g, ""))}
            />
          </label>
        )}
        {kind.number && (
          <label className={label}>
            {upper(kind.number)} (may stay open)
            <input
              className="box font-mono font-normal"
              inputMode="numeric"
              value={number}
              onChange={(event) => setNumber(event.target.value.replace(/\D/g, ""))}
            />
          </label>
        )}
        {add.error && <WantedAnyway error={add.error} keep={() => store(true)} />}
        <button
          type="submit"
          className="btn btn-main justify-self-start"
          disabled={!from || !to || add.isPending}
        >
          Add the link
        </button>
      </form>
    </LargeDialog>
  );
}

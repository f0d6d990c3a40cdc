import { useState } from "react";
import { useSearchParams } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSheet } from "../../api/site";
import { Choice } from "../../parts/Choice";
import { DeviceLink } from "../../parts/DeviceLink";
import { Empty, Trouble } from "../../parts/Feedback";
import { LineField } from "../../parts/LineField";
import { Mark, type MarkName } from "../../parts/Mark";
import { NextBar } from "../../parts/NextBar";
import { Page } from "../../parts/Page";

type Sheet = Schemas["RemoteSheet"];
type Device = Schemas["RemoteDevice"];
type Step = Device["steps"][number];
type Act =
  | { do: "method"; body: Schemas["MethodChoice"] }
  | { do: "step"; device: string; item: string; body: Schemas["StepTick"] }
  | { do: "owner"; device: string; body: Schemas["OwnerSaid"] };

const MARKS: Record<Step["state"], MarkName> = {
  done: "set",
  open: "turn",
  waits: "planned",
  "not-needed": "left",
};
const WORDS: Record<Step["state"], string> = {
  done: "done",
  open: "to do now",
  waits: "waits",
  "not-needed": "not needed",
};

function useActs() {
  return useChange<Act, Sheet>((key, act) => {
    if (act.do === "method")
      return ask(client.PUT("/api/sites/{key}/remote/method", { params: { path: { key } }, body: act.body }));
    const path = { key, device: act.device };
    if (act.do === "owner")
      return ask(client.PUT("/api/sites/{key}/remote/{device}/owner", { params: { path }, body: act.body }));
    return ask(
      client.PUT("/api/sites/{key}/remote/{device}/steps/{item}", {
        params: { path: { ...path, item: act.item } },
        body: act.body,
      }),
    );
  }, "remote");
}

/** Remote access: the way that is chosen, and each device's steps in their order. */
export function Remote() {
  const sheet = useSheet("remote");
  const acts = useActs();
  const [search, setSearch] = useSearchParams();
  const devices = sheet.data?.devices ?? [];
  const chosen =
    devices.find((item) => item.key === search.get("device")) ??
    devices.find((item) => item.open > 0) ??
    devices[0];
  const next = chosen?.steps.find((step) => step.state === "open");
  return (
    <>
      <Page title="Remote access" fetched={sheet}>
        {(data) => (
          <div className="grid gap-x-8 gap-y-6 pt-2 xl:grid-cols-[22rem_minmax(0,1fr)]">
            <div className="grid content-start gap-6">
              <Method
                key={`${data.method} ${data.why}`}
                sheet={data}
                act={acts.mutate}
                busy={acts.isPending}
              />
              <DeviceList
                devices={devices}
                chosen={chosen}
                choose={(device) => setSearch({ device }, { replace: true })}
              />
            </div>
            <div className="min-w-0">
              {acts.error && <Trouble error={acts.error} />}
              {chosen ? (
                <Steps key={chosen.key} device={chosen} act={acts.mutate} busy={acts.isPending} />
              ) : (
                <Empty title="No device is reached from outside">
                  Tie a device to the makers’ relay on the links page, or say in the kit that it was bought
                  used.
                </Empty>
              )}
            </div>
          </div>
        )}
      </Page>
      {sheet.data && (
        <NextBar
          sentence={
            !sheet.data.method
              ? "Choose how this site is looked at from outside."
              : next && chosen
                ? `${chosen.name}: ${next.title.toLowerCase()}.`
                : devices.length > 0
                  ? "Every step of this device is done."
                  : "Nothing is reached from outside yet."
          }
          detail={sheet.data.method ? next?.do : undefined}
        />
      )}
    </>
  );
}

function Method({ sheet, act, busy }: { sheet: Sheet; act: (act: Act) => void; busy: boolean }) {
  const [method, setMethod] = useState(sheet.method ?? "relay");
  const [why, setWhy] = useState(sheet.why);
  const shown = sheet.methods.find((item) => item.key === method);
  return (
    <form
      aria-labelledby="way"
      className="border border-hair border-t-[3px] border-t-ink bg-sheet p-5"
      onSubmit={(event) => {
        event.preventDefault();
        act({ do: "method", body: { method, why } });
      }}
    >
      <h2 id="way" className="pb-1 text-lead font-semibold">
        The way in
      </h2>
      <p className="pb-2 text-small text-ink-2">
        {sheet.method
          ? `Chosen${sheet.by ? ` by ${sheet.by}` : ""}.`
          : "Nobody chose yet; the relay or a VPN is usual."}
        {sheet.wanted_by.length > 0 && ` Wanted by ${sheet.wanted_by.join(", ")}.`}
      </p>
      <Choice
        label="way"
        options={sheet.methods.map((item) => ({ value: item.key, word: item.title }))}
        value={method}
        set={(way) => setMethod(way as typeof method)}
      />
      {shown && (
        <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-1.5 py-3 text-small">
          <dt className="text-ink-2">Why</dt>
          <dd>{shown.reason}</dd>
          <dt className="text-ink-2">Risk</dt>
          <dd>{shown.risk}</dd>
        </dl>
      )}
      <label className="grid gap-0.5 text-cell">
        reason here
        <textarea
          className="box min-h-16 py-2"
          maxLength={2000}
          value={why}
          onChange={(event) => setWhy(event.target.value)}
        />
      </label>
      <button
        type="submit"
        className="btn mt-3"
        disabled={busy || (method === sheet.method && why.trim() === sheet.why)}
      >
        Choose this way
      </button>
    </form>
  );
}

function DeviceList({
  devices,
  chosen,
  choose,
}: {
  devices: Device[];
  chosen: Device | undefined;
  choose: (key: string) => void;
}) {
  if (devices.length === 0) return null;
  return (
    <nav aria-label="Devices with remote access" className="max-h-96 overflow-auto">
      <ul>
        {devices.map((item) => (
          <li key={item.key} className="border-t border-hair">
            <button
              type="button"
              aria-current={item.key === chosen?.key ? "true" : undefined}
              className={`flex min-h-11 w-full items-center justify-between gap-3 px-2 text-left ${
                item.key === chosen?.key ? "bg-wash font-bold" : ""
              }`}
              onClick={() => choose(item.key)}
            >
              <span className="min-w-0 truncate">{item.name}</span>
              <span className="text-small whitespace-nowrap text-ink-2">
                {item.used ? "used, " : ""}
                {item.open > 0 ? `${item.open} open` : "done"}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </nav>
  );
}

function Steps({ device, act, busy }: { device: Device; act: (act: Act) => void; busy: boolean }) {
  return (
    <>
      <h2 className="text-lead font-semibold [overflow-wrap:anywhere]">
        <DeviceLink device={device.key}>{device.name}</DeviceLink>
      </h2>
      <p className="pb-2 text-small text-ink-2">
        {[device.place, device.serial && `serial ${device.serial}`].filter(Boolean).join(", ")}
      </p>
      <Owner device={device} act={act} busy={busy} />
      <ol aria-label="Steps">
        {device.steps.map((step, at) => (
          <StepLine
            key={`${step.item} ${step.state}`}
            step={step}
            number={at + 1}
            device={device.key}
            act={act}
            busy={busy}
          />
        ))}
      </ol>
      {device.apps.length > 0 && (
        <section aria-label="Programs" className="pt-4 text-small">
          <h3 className="font-semibold text-ink-2">Programs</h3>
          <ul>
            {device.apps.map((app) => (
              <li key={`${app.for_} ${app.system}`} className="border-t border-hair py-1.5">
                {app.for_}
                {app.system && `, ${app.system}`}
                {app.source && `: ${app.source}`}
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

function StepLine({
  step,
  number,
  device,
  act,
  busy,
}: {
  step: Step;
  number: number;
  device: string;
  act: (act: Act) => void;
  busy: boolean;
}) {
  const [note, setNote] = useState(step.note ?? "");
  const tick = (state: Schemas["StepTick"]["state"]) =>
    act({ do: "step", device, item: step.item, body: { state, note } });
  const now = step.state === "open";
  return (
    <li
      className={`grid grid-cols-[1.75rem_minmax(0,1fr)] gap-x-3 border-t border-hair py-2.5 ${
        now ? "-mx-3 border-y-2 border-brass-fill bg-brass-wash px-3" : ""
      }`}
    >
      <span className="pt-0.5 font-mono font-semibold">{number}</span>
      <div className="min-w-0">
        <p className="flex flex-wrap items-center gap-x-3">
          <b className="font-semibold">{step.title}</b>
          <span className="inline-flex items-center gap-1.5 text-small">
            <Mark name={MARKS[step.state]} size={14} />
            {WORDS[step.state]}
            {step.waits_for && `: first ${step.waits_for.toLowerCase()}`}
          </span>
        </p>
        <p className="text-small text-ink-2">
          {step.do}
          {step.by && step.state !== "open" && ` ${step.note ? `${step.note}; ` : ""}${step.by}.`}
        </p>
        {now && step.ticked && (
          <div className="flex flex-wrap items-end gap-3 pt-2">
            <LineField
              label={step.asks || "note (may stay empty)"}
              value={note}
              set={setNote}
              look="flex-1 basis-56"
            />
            <button
              type="button"
              className="btn btn-main"
              disabled={busy || (step.asks !== "" && !note.trim())}
              onClick={() => tick("done")}
            >
              Done
            </button>
            <button
              type="button"
              className="min-h-11 text-small underline"
              disabled={busy || !note.trim()}
              onClick={() => tick("not-needed")}
            >
              Not needed, for this reason
            </button>
          </div>
        )}
        {step.by && step.ticked && (step.state === "done" || step.state === "not-needed") && (
          <button
            type="button"
            className="min-h-9 text-small underline max-md:min-h-11"
            disabled={busy}
            onClick={() => act({ do: "step", device, item: step.item, body: { state: "open", note: "" } })}
          >
            Open it again
          </button>
        )}
      </div>
    </li>
  );
}

const OWNERS = {
  unknown: "not known",
  released: "released by its former owner",
  ours: "registered here",
  bound: "bound to somebody else",
} as const;

function Owner({ device, act, busy }: { device: Device; act: (act: Act) => void; busy: boolean }) {
  const [state, setState] = useState(device.owner as keyof typeof OWNERS);
  const [account, setAccount] = useState(device.account ?? "");
  const [note, setNote] = useState(device.owner_note ?? "");
  return (
    <form
      aria-label="Whose it is at the relay"
      className="mb-3 flex flex-wrap items-end gap-3 border-l-4 border-hair pl-3"
      onSubmit={(event) => {
        event.preventDefault();
        const body = { state, account: (account || null) as Schemas["OwnerSaid"]["account"], note };
        act({ do: "owner", device: device.key, body });
      }}
    >
      <Choice
        label="at the relay it is"
        options={Object.entries(OWNERS).map(([value, word]) => ({ value, word }))}
        value={state}
        set={(next) => setState(next as keyof typeof OWNERS)}
      />
      <label className="grid gap-0.5 text-cell">
        in the account of
        <select className="box" value={account} onChange={(event) => setAccount(event.target.value)}>
          <option value="">nobody known</option>
          <option value="customer">the customer</option>
          <option value="installer">the installer</option>
          <option value="former">its former owner</option>
        </select>
      </label>
      <LineField label="note" value={note} set={setNote} look="flex-1 basis-40" />
      <button type="submit" className="btn" disabled={busy}>
        Write it down
      </button>
    </form>
  );
}

import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSheet, useSiteKey } from "../../api/site";
import { Mark } from "../../parts/Mark";
import { NextBar } from "../../parts/NextBar";
import { Empty, Trouble } from "../../parts/Notes";
import { Page, Problems } from "../../parts/Page";
import { useDeviceChange } from "../addresses/useDeviceChange";

type Sheet = Schemas["Kit"];
type Device = Schemas["KitDevice"];

/** What is in the boxes: one row a device; a row opens for editing. */
export function Kit() {
  const sheet = useSheet("kit");
  const navigate = useNavigate();
  const site = useSiteKey();
  const [editing, setEditing] = useState<string | null>(null);
  const unread = sheet.data?.devices.filter((device) => sheet.data.unread.includes(device.key)) ?? [];
  return (
    <>
      <Page title="Kit" fetched={sheet}>
        {(data) => (
          <>
            <Problems problems={data.problems} />
            {data.devices.length === 0 && (
              <Empty title="The kit is empty">
                Write down the first device below, or bring in a site file.
              </Empty>
            )}
            {data.devices.length > 0 && <Table data={data} editing={editing} edit={setEditing} />}
            {data.models.length > 0 ? (
              <NewDevice data={data} />
            ) : (
              <p className="mt-4 text-ink-2">This site has no models yet; a site file brings them.</p>
            )}
          </>
        )}
      </Page>
      {sheet.data && (
        <NextBar
          sentence={
            unread[0] ? `Read the label of ${unread[0].name ?? unread[0].key}.` : "Every label is read."
          }
          detail={unread[0] ? "Hardware address and serial number." : "The addresses are next."}
          go={
            unread[0]
              ? { label: "Open its row", key: " ", run: () => setEditing(unread[0]?.key ?? null) }
              : { label: "Go to the addresses", key: " ", run: () => navigate(`/sites/${site}/addresses`) }
          }
        />
      )}
    </>
  );
}

const HEADS = ["Device", "Place", "Model", "Network", "Addressing", "Hardware address", "Serial number", ""];

function Table({
  data,
  editing,
  edit,
}: {
  data: Sheet;
  editing: string | null;
  edit: (key: string | null) => void;
}) {
  const labels = new Map(data.models.map((model) => [model.key, model.label]));
  return (
    <div className="relative overflow-x-auto">
      <table className="mt-2 w-full min-w-[960px] text-list">
        <thead>
          <tr className="border-b-2 border-ink text-left text-small">
            {HEADS.map((head) => (
              <th key={head} scope="col" className="pr-3 font-semibold">
                {head || <span className="sr-only">Edit</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {data.devices.map((device) =>
            device.key === editing ? (
              <tr key={device.key} className="border-b border-hair bg-wash">
                <td colSpan={HEADS.length} className="p-4">
                  <EditDevice data={data} device={device} close={() => edit(null)} />
                </td>
              </tr>
            ) : (
              <tr key={device.key} className="h-11 border-b border-hair [contain-intrinsic-size:auto_44px]">
                <td className="max-w-56 truncate pr-3" title={device.name ?? device.key}>
                  <b className="font-semibold">{device.name ?? device.key}</b>
                  {device.used && <span className="ml-2 text-small text-brass">used</span>}
                </td>
                <td className="pr-3">{device.place ?? <Open />}</td>
                <td className="pr-3">{labels.get(device.model) ?? device.model}</td>
                <td className="pr-3">
                  {device.behind ? `behind ${device.behind}` : (device.network ?? <Open />)}
                </td>
                <td className="pr-3">{device.addressing}</td>
                <td className="pr-3 font-mono text-small">{device.mac ?? <Open />}</td>
                <td className="pr-3 font-mono text-small">{device.serial ?? <Open />}</td>
                <td>
                  <button
                    type="button"
                    className="min-h-11 px-2 text-small font-semibold underline"
                    onClick={() => edit(device.key)}
                  >
                    Edit<span className="sr-only"> {device.name ?? device.key}</span>
                  </button>
                </td>
              </tr>
            ),
          )}
        </tbody>
      </table>
    </div>
  );
}

function Open() {
  return (
    <span className="inline-flex items-center gap-1.5 font-sans text-small text-brass">
      <Mark name="turn" size={12} /> not read yet
    </span>
  );
}

function EditDevice({ data, device, close }: { data: Sheet; device: Device; close: () => void }) {
  const change = useDeviceChange();
  const remove = useChange((key, number: number) =>
    ask(
      client.DELETE("/api/sites/{key}/devices/{device}", {
        params: { path: { key, device: device.key }, query: { revision: number } },
      }),
    ),
  );
  const [sure, setSure] = useState(false);

  function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const typed = fieldsOf(event.currentTarget);
    const changed = Object.fromEntries(
      Object.entries(typed).filter(([name, value]) => value !== (device[name as keyof Device] ?? null)),
    );
    if (Object.keys(changed).length === 0) close();
    else change.mutate({ device: device.key, revision: device.revision, ...changed }, { onSuccess: close });
  }
  return (
    <form onSubmit={submit} aria-label={`Edit ${device.name ?? device.key}`}>
      <DeviceFields data={data} device={device} />
      {(change.error ?? remove.error) && (
        <div className="mt-3">
          <Trouble error={(change.error ?? remove.error) as Error} />
        </div>
      )}
      <div className="mt-3 flex flex-wrap gap-3">
        <button type="submit" className="btn btn-main" disabled={change.isPending}>
          Save
        </button>
        <button type="button" className="btn" onClick={close}>
          Leave as it was
        </button>
        <button
          type="button"
          className="btn ml-auto"
          onClick={() => (sure ? remove.mutate(device.revision, { onSuccess: close }) : setSure(true))}
        >
          {sure ? "Yes, remove it with its links" : "Remove…"}
        </button>
      </div>
    </form>
  );
}

function fieldsOf(form: HTMLFormElement): Record<string, string | null> {
  const typed = Object.fromEntries(
    [...new FormData(form)].map(([name, value]) => [name, String(value).trim()]),
  );
  const behind = typed.network?.startsWith("behind ") ? typed.network.slice(7) : null;
  return {
    ...Object.fromEntries(Object.entries(typed).map(([name, value]) => [name, value || null])),
    network: behind ? null : typed.network || null,
    behind,
  };
}

function DeviceFields({ data, device }: { data: Sheet; device?: Device }) {
  const box = "box text-ink";
  const label = "grid gap-1 text-small text-ink-2";
  const recorders = data.devices.filter((item) => item.family === "recorder" && item.key !== device?.key);
  return (
    <div className="flex flex-wrap items-end gap-3">
      <label className={label}>
        Name
        <input name="name" defaultValue={device?.name ?? ""} className={`${box} w-60`} autoComplete="off" />
      </label>
      <label className={label}>
        Place
        <select name="place" defaultValue={device?.place ?? ""} className={box}>
          <option value="">not known yet</option>
          {[...new Set([...data.places, ...(device?.place ? [device.place] : [])])].map((place) => (
            <option key={place}>{place}</option>
          ))}
        </select>
      </label>
      <label className={label}>
        Model
        <select name="model" defaultValue={device?.model} className={box}>
          {data.models.map((model) => (
            <option key={model.key} value={model.key}>
              {model.label}
            </option>
          ))}
        </select>
      </label>
      <label className={label}>
        Network
        <select
          name="network"
          defaultValue={device?.behind ? `behind ${device.behind}` : (device?.network ?? data.networks[0])}
          className={box}
        >
          {data.networks.map((network) => (
            <option key={network}>{network}</option>
          ))}
          {recorders.map((recorder) => (
            <option key={recorder.key} value={`behind ${recorder.key}`}>
              behind {recorder.name ?? recorder.key}
            </option>
          ))}
        </select>
      </label>
      <label className={label}>
        Addressing
        <select name="addressing" defaultValue={device?.addressing ?? "fixed"} className={box}>
          <option value="fixed">fixed on the device</option>
          <option value="reserved">reserved in the router</option>
          <option value="leased">leased as it comes</option>
        </select>
      </label>
      <label className={label}>
        Hardware address
        <input
          name="mac"
          defaultValue={device?.mac ?? ""}
          className={`${box} w-52 font-mono`}
          autoComplete="off"
          spellCheck={false}
        />
      </label>
      <label className={label}>
        Serial number
        <input
          name="serial"
          defaultValue={device?.serial ?? ""}
          className={`${box} w-40 font-mono`}
          autoComplete="off"
          spellCheck={false}
        />
      </label>
    </div>
  );
}

function NewDevice({ data }: { data: Sheet }) {
  const add = useChange((key, body: Schemas["NewDevice"]) =>
    ask(client.POST("/api/sites/{key}/devices", { params: { path: { key } }, body })),
  );
  function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = event.currentTarget;
    const typed = fieldsOf(form);
    const body = { ...typed, key: typed.key ?? "", model: typed.model ?? "" } as Schemas["NewDevice"];
    add.mutate(body, { onSuccess: () => form.reset() });
  }
  return (
    <form onSubmit={submit} className="mt-6 border-t-2 border-ink pt-3" aria-label="Write down a device">
      <h2 className="pb-2 font-semibold">Write down a device</h2>
      <label className="mb-3 grid w-40 gap-1 text-small text-ink-2">
        Sticker, e.g. cam-25
        <input name="key" required className="box font-mono text-ink" autoComplete="off" spellCheck={false} />
      </label>
      <DeviceFields data={data} />
      {add.error && (
        <div className="mt-3">
          <Trouble error={add.error} />
        </div>
      )}
      <button type="submit" className="btn mt-3" disabled={add.isPending}>
        Add it
      </button>
    </form>
  );
}

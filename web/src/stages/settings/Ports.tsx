import { type FormEvent, useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSiteKey } from "../../api/site";
import { Alike } from "../../parts/Alike";
import { dayOf } from "../../parts/dates";
import { useDraft } from "../../parts/drafts";
import { Empty, Trouble } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";
import { Problems } from "../../parts/Page";
import { Held } from "../../parts/Rights";

type Sheet = Schemas["Ports"];

/** Served ports, logins that are held, and what is forwarded from outside with who decided it. */
export function Ports({ data }: { data: Sheet }) {
  const changed = data.devices.filter((device) => device.rows.some((row) => row.changed));
  const logins = (key: string) => data.logins.filter((login) => login.full && login.device === key);
  if (data.devices.length === 0) return <Empty title="No ports yet">No device of the kit serves any.</Empty>;
  return (
    <>
      <div className="pt-2">
        <Problems problems={data.problems} />
      </div>
      <Forwards data={data} />
      <h2 className="mt-6 border-b border-hair pb-1 text-lead font-semibold">
        Ports by device{changed.length > 0 && `, ${changed.length} changed`}
      </h2>
      <Alike
        label="Ports by device"
        rows={data.devices}
        sign={(device) =>
          JSON.stringify([device.rows.map((row) => [row.title, row.port]), logins(device.key)])
        }
        rank={(device) => (device.rows.some((row) => row.changed) ? 0 : 1)}
      >
        {(device) => (
          <>
            <span className="flex min-w-0 flex-1 flex-wrap gap-x-5">
              {device.rows.map((row) => (
                <span key={row.service} className="whitespace-nowrap text-small">
                  <span className="text-ink-2">{row.title}</span>{" "}
                  <span className={`font-mono ${row.changed ? "font-bold" : ""}`}>{row.port}</span>
                  {row.changed && <span className="text-ink-2"> usually {row.usual}</span>}
                </span>
              ))}
            </span>
            {logins(device.key).map((login) => (
              <span key={login.sentence} className="w-full text-small text-ink-2">
                <Mark name="off" word="full" /> {login.sentence}
              </span>
            ))}
          </>
        )}
      </Alike>
    </>
  );
}

function Forwards({ data }: { data: Sheet }) {
  const [deciding, setDeciding] = useState(false);
  const drop = useChange((key, outside: number) =>
    ask(
      client.DELETE("/api/sites/{key}/forwards/{outside}", {
        params: { path: { key, outside }, query: { revision: data.revision } },
      }),
    ),
  );
  return (
    <section aria-label="From outside">
      <h2 className="border-b border-hair pb-1 text-lead font-semibold">From outside</h2>
      <p className="max-w-3xl py-2 text-ink-2">
        Nothing is open to the internet unless somebody decides it here. The maker’s relay dials out, and a
        VPN opens one guarded door; both are better than a forwarded port.
      </p>
      {data.cut_off && (
        <p className="flex items-start gap-2 pb-2">
          <span className="mt-1">
            <Mark name="off" />
          </span>
          {data.cut_off}. Forwarding cannot work on this line.
        </p>
      )}
      {drop.error && <Trouble error={drop.error} />}
      <Held right="decide" to="open a port to the internet or close one">
        <ul>
          {data.forwards.map((item) => (
            <li
              key={`${item.outside} ${item.device}`}
              className="flex flex-wrap gap-x-4 border-b border-hair py-2"
            >
              <span className="w-40 font-mono">
                {item.outside} → {item.service}
              </span>
              <span className="min-w-0 flex-1 basis-72">
                <b>{item.name}</b>. {item.why ?? "No reason is written down."}{" "}
                <span className="text-ink-2">
                  Decided by {item.decided_by ?? "nobody"}
                  {item.at && `, ${dayOf(item.at)}`}.
                </span>
                <span className={`block text-small ${item.administration ? "font-semibold text-red" : ""}`}>
                  {item.risk}
                </span>
              </span>
              <button
                type="button"
                className="btn"
                disabled={drop.isPending}
                aria-label={`Take back port ${item.outside}`}
                onClick={() => drop.mutate(item.outside)}
              >
                Take back
              </button>
            </li>
          ))}
        </ul>
        {!data.cut_off &&
          (deciding ? (
            <Decide data={data} done={() => setDeciding(false)} />
          ) : (
            <button type="button" className="btn mt-2" onClick={() => setDeciding(true)}>
              Write down a forwarded port…
            </button>
          ))}
      </Held>
    </section>
  );
}

/** A forwarded port is a decision: with its risk before it, a reason, and a name under it. */
function Decide({ data, done }: { data: Sheet; done: () => void }) {
  const first = data.devices[0];
  const [draft, setDraft, clear] = useDraft(`${useSiteKey()}.forward`, {
    device: first?.key ?? "",
    service: first?.rows[0]?.service ?? "",
    outside: "",
    decided_by: "",
    why: "",
  });
  const device = data.devices.find((item) => item.key === draft.device);
  const decide = useChange((key, body: Schemas["NewForward"]) =>
    ask(client.POST("/api/sites/{key}/forwards", { params: { path: { key } }, body })),
  );
  const set = (change: Partial<typeof draft>) => setDraft({ ...draft, ...change });
  function submit(event: FormEvent) {
    event.preventDefault();
    decide.mutate(
      { ...draft, outside: Number(draft.outside) || 0, revision: data.revision },
      {
        onSuccess: () => {
          clear();
          done();
        },
      },
    );
  }
  return (
    <form onSubmit={submit} className="slip mt-2 grid max-w-3xl gap-3" aria-label="A forwarded port">
      <p className="border-l-4 border-brass-fill pl-3 text-small">
        <b>Caution.</b> Anybody on the internet reaches what is behind this port, and every fault in its
        firmware. Never forward a page for administration.
      </p>
      <div className="grid gap-3 md:grid-cols-3">
        <label className="grid gap-1 text-small">
          Device
          <select
            className="box"
            value={draft.device}
            onChange={(event) => {
              const chosen = data.devices.find((item) => item.key === event.target.value);
              set({ device: event.target.value, service: chosen?.rows[0]?.service ?? "" });
            }}
          >
            {data.devices.map((item) => (
              <option key={item.key} value={item.key}>
                {item.name}
              </option>
            ))}
          </select>
        </label>
        <label className="grid gap-1 text-small">
          Service
          <select
            className="box"
            value={draft.service}
            onChange={(event) => set({ service: event.target.value })}
          >
            {device?.rows.map((row) => (
              <option key={row.service} value={row.service}>
                {row.title} {row.port}
              </option>
            ))}
          </select>
        </label>
        <label className="grid gap-1 text-small">
          Outside port
          <input
            className="box font-mono"
            inputMode="numeric"
            required
            value={draft.outside}
            onChange={(event) => set({ outside: event.target.value })}
          />
        </label>
      </div>
      <label className="grid gap-1 text-small">
        Why it is needed
        <input
          className="box"
          required
          value={draft.why}
          onChange={(event) => set({ why: event.target.value })}
        />
      </label>
      <label className="grid max-w-sm gap-1 text-small">
        Decided by
        <input
          className="box"
          required
          value={draft.decided_by}
          onChange={(event) => set({ decided_by: event.target.value })}
        />
      </label>
      {decide.error && <Trouble error={decide.error} />}
      <div className="flex gap-3">
        <button type="submit" className="btn btn-main" disabled={decide.isPending}>
          Write it down
        </button>
        <button
          type="button"
          className="btn"
          onClick={() => {
            clear();
            done();
          }}
        >
          Leave it
        </button>
      </div>
    </form>
  );
}

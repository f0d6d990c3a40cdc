import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { asBytes, ask, client, type Schemas } from "../../api/client";
import { useChange, useSiteKey } from "../../api/site";
import { LargeDialog } from "../../parts/Dialog";
import { Trouble } from "../../parts/Feedback";
import { Mark, type MarkName } from "../../parts/Mark";
import { TableSource } from "../../parts/TableSource";
import { useDeviceChange } from "../../parts/useDeviceChange";

type Found = Schemas["Sightings"];
type Finding = Schemas["FindingRow"];
const KINDS: Record<Finding["kind"], [MarkName, string]> = {
  taken: ["clash", "a stranger holds a planned address"],
  elsewhere: ["off", "known, but elsewhere"],
  factory: ["off", "at a factory address"],
  unread: ["unread", "perhaps ours, label not read"],
  stale: ["off", "a lease by its cable, now on Wi-Fi"],
  kin: ["stranger", "unknown, of our makers"],
  stranger: ["stranger", "unknown"],
  leased: ["leased", "leased, as it should be"],
  expected: ["set", "as planned"],
  router: ["gateway", "the router"],
  foreign: ["free", "outside our networks"],
};

/** A lease or neighbour table: what is really there, compared with the plan. */
export function FieldTable({ close }: { close: () => void }) {
  const [content, setContent] = useState<Blob | null>(null);
  const read = useChange((key, body: Blob) =>
    ask(
      client.POST("/api/sites/{key}/sightings", {
        params: { path: { key } },
        ...asBytes(body),
      }),
    ),
  );
  const search = useChange((key, _: null) =>
    ask(client.POST("/api/sites/{key}/search", { params: { path: { key } } })),
  );
  const found = read.data ?? search.data;
  const error = read.error ?? search.error;
  function take(blob: Blob) {
    setContent(blob);
    read.mutate(blob);
  }
  return (
    <LargeDialog title="What is really there" close={close} wide>
      {error && <Trouble error={error} />}
      {found ? (
        <Findings
          found={found}
          again={() => {
            read.reset();
            search.reset();
          }}
          refresh={() => (read.data && content ? take(content) : search.mutate(null))}
        />
      ) : (
        <>
          <p className="flex flex-wrap items-center gap-x-4 gap-y-2 pb-4">
            <button
              type="button"
              className="btn"
              disabled={search.isPending}
              onClick={() => search.mutate(null)}
            >
              {search.isPending ? "Asking who is there" : "Ask who is there"}
            </button>
            <span className="min-w-0 flex-1 basis-72 text-small text-ink-2">
              Finds devices with the shared device interface: the real ones where live work is on and somebody
              answers for it, else those of the pretend site.
            </span>
          </p>
          <TableSource
            file="The router’s table of leases, or any table with addresses and hardware addresses"
            text={
              <>
                Or paste what <code className="font-mono">arp -a</code> or{" "}
                <code className="font-mono">ip neigh</code> prints on a laptop in that network
              </>
            }
            go="Compare with the plan"
            busy={read.isPending}
            take={take}
          />
        </>
      )}
    </LargeDialog>
  );
}

function Findings({ found, again, refresh }: { found: Found; again: () => void; refresh: () => void }) {
  const { revision } = found;
  const change = useDeviceChange();
  const keep = useChange((key, { network, ...body }: Schemas["KeepFree"] & { network: string }) =>
    ask(
      client.POST("/api/sites/{key}/networks/{network}/keep", { params: { path: { key, network } }, body }),
    ),
  );
  const done = { onSuccess: refresh };
  const over = useTakeOver(found, refresh);
  const busy = change.isPending || keep.isPending || over.isPending;
  const write = (row: Finding, changes: { address?: string; mac?: string }) =>
    change.mutate({ device: row.device ?? "", revision: row.revision ?? 0, ...changes }, done);
  /** What may be done about a finding. */
  function acts(row: Finding) {
    const { address, mac, network } = row;
    const found: { words: string; run: () => void }[] = [];
    if (row.set_address) found.push({ words: `Write down ${address}`, run: () => write(row, { address }) });
    if (row.set_mac)
      found.push({ words: `It is that one: write down ${mac}`, run: () => write(row, { mac }) });
    const range = { first: address, last: address, why: row.name ?? mac };
    if (row.keep && network)
      found.push({
        words: `Keep ${address} free`,
        run: () => keep.mutate({ network, revision, ...range }, done),
      });
    return found;
  }
  const kinds = Object.keys(KINDS).filter((kind) => found.rows.some((row) => row.kind === kind));
  const error = change.error ?? keep.error ?? over.error;
  return (
    <div className="mt-3 grid gap-3">
      <p className="flex flex-wrap items-center gap-3">
        Read as {found.table}: {found.rows.length} {found.rows.length === 1 ? "sighting" : "sightings"}.
        <button type="button" className="btn" onClick={again}>
          Another table
        </button>
      </p>
      {error && <Trouble error={error} />}
      {over.rows.length > 0 && <TakeOver number={over.rows.length} busy={busy} take={over.take} />}
      <div
        className="max-h-[60vh] overflow-auto border-t-2 border-ink"
        tabIndex={0}
        role="region"
        aria-label="Findings"
      >
        {kinds.map((kind) => {
          const rows = found.rows.filter((row) => row.kind === kind);
          const [mark, word] = KINDS[kind as Finding["kind"]];
          return (
            <section key={kind} aria-label={word} className="border-b border-hair py-2 md:flex">
              <h3 className="flex shrink-0 items-start gap-2 text-small font-semibold md:w-56 md:pr-4">
                <span className="mt-0.5">
                  <Mark name={mark} />
                </span>
                {word} ({rows.length})
              </h3>
              <ul className="min-w-0 flex-1 text-list">
                {rows.map((row) => (
                  <li
                    key={`${row.address} ${row.mac}`}
                    className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-hair py-1 last:border-0"
                  >
                    <span className="min-w-0 flex-1 basis-72">{row.sentence}</span>
                    {acts(row).map((act) => (
                      <button
                        key={act.words}
                        type="button"
                        className="btn min-h-9 max-md:min-h-11"
                        disabled={busy}
                        onClick={act.run}
                      >
                        {act.words}
                      </button>
                    ))}
                  </li>
                ))}
              </ul>
            </section>
          );
        })}
      </div>
      {found.unseen.length > 0 && (
        <p className="text-small">
          <b className="font-semibold">Not in the table:</b> {found.unseen.slice(0, 12).join(", ")}
          {found.unseen.length > 12 && ` and ${found.unseen.length - 12} more`}.
        </p>
      )}
    </div>
  );
}

/** Rows of nobody we know become devices with their names, addresses and hardware addresses, all or nothing. */
function useTakeOver({ rows: all, revision }: Found, refresh: () => void) {
  const add = useChange((key, body: Schemas["TakeOver"]) =>
    ask(client.POST("/api/sites/{key}/sightings/take-over", { params: { path: { key } }, body })),
  );
  const taken = all.filter((row) => row.take);
  const rows = taken.map(({ address, mac, name, leased }) => ({ address, mac, name, leased }));
  const take = (model: string) => add.mutate({ revision, model, rows }, { onSuccess: refresh });
  return { rows, take, isPending: add.isPending, error: add.error };
}

function TakeOver({ number, busy, take }: { number: number; busy: boolean; take: (model: string) => void }) {
  const site = useSiteKey();
  const kit = useQuery({
    queryKey: ["site", site, "kit"],
    queryFn: () => ask(client.GET("/api/sites/{key}/kit", { params: { path: { key: site } } })),
  });
  const [model, setModel] = useState("");
  const chosen = model || kit.data?.models[0]?.key || "";
  return (
    <p className="flex flex-wrap items-end gap-3">
      <label className="grid gap-1 text-small">
        Model of what is taken over
        <select className="box" value={chosen} onChange={(event) => setModel(event.target.value)}>
          {(kit.data?.models ?? []).map((item) => (
            <option key={item.key} value={item.key}>
              {item.label}
            </option>
          ))}
        </select>
      </label>
      <button type="button" className="btn" disabled={busy || !chosen} onClick={() => take(chosen)}>
        Take over {number === 1 ? "1 unknown device" : `${number} unknown devices`}
      </button>
      <span className="text-small text-ink-2">Names, addresses and hardware addresses stay as they are.</span>
    </p>
  );
}

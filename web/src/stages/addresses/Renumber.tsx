import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { ask, client, Refused, type Schemas } from "../../api/client";
import { useChange, useSiteKey } from "../../api/site";
import { LargeDialog } from "../../parts/Dialog";
import { Loading, Trouble } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";
import { Problems } from "../../parts/Page";
import { Only } from "../../parts/Rights";

/** The network gets another range: who moves where, and what is typed elsewhere, in an order that cuts nothing off. */
export function Renumber({ network, close }: { network: Schemas["NetworkSheet"]; close: () => void }) {
  const site = useSiteKey();
  const [typed, setTyped] = useState({ to: "", gateway: "" });
  const [wanted, setWanted] = useState<{ to: string; gateway: string } | null>(null);
  const path = { key: site, network: network.key };
  const preview = useQuery({
    queryKey: ["site", site, "renumber", network.key, wanted],
    enabled: wanted !== null,
    retry: false,
    queryFn: () =>
      ask(
        client.POST("/api/sites/{key}/networks/{network}/renumber/preview", {
          params: { path },
          body: { to: wanted?.to ?? "", gateway: wanted?.gateway || null },
        }),
      ),
  });
  const apply = useChange((key, body: Schemas["RenumberDo"]) =>
    ask(
      client.POST("/api/sites/{key}/networks/{network}/renumber", {
        params: { path: { key, network: network.key } },
        body,
      }),
    ),
  );
  function submit(event: FormEvent) {
    event.preventDefault();
    setWanted({ to: typed.to.trim(), gateway: typed.gateway.trim() });
  }
  const faults = preview.error instanceof Refused ? preview.error.faults : [];
  const file = wanted
    ? `/api/sites/${site}/networks/${network.key}/renumber.csv?${new URLSearchParams(wanted)}`
    : "";
  return (
    <LargeDialog title={`Renumber ${network.label}`} close={close} wide>
      <p className="text-ink-2">
        It is {network.cidr} now. Host parts are kept where they fit; locked devices move too, their lock is
        on the host part.
      </p>
      <form onSubmit={submit} className="mt-3 flex flex-wrap items-end gap-3" noValidate>
        {(["to", "gateway"] as const).map((name) => (
          <label key={name} className="grid w-52 gap-1 text-small">
            {name === "to" ? "New range" : "New gateway, if known"}
            <input
              className={`box w-full font-mono ${faults.some((fault) => fault.path === name) ? "border-red" : ""}`}
              value={typed[name]}
              autoComplete="off"
              placeholder={name === "to" ? "10.62.12.0/24" : "10.62.12.1"}
              onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
            />
          </label>
        ))}
        <button type="submit" className="btn" disabled={!typed.to.trim()}>
          Show what changes
        </button>
      </form>
      {preview.isFetching && <Loading what="the new plan" />}
      {(preview.error ?? apply.error) && <Trouble error={(preview.error ?? apply.error) as Error} />}
      {wanted && preview.data && (
        <div className="mt-4 grid gap-4">
          <Problems problems={preview.data.problems} />
          <div className="grid gap-6 lg:grid-cols-2">
            <Devices devices={preview.data.devices} />
            <Partners partners={preview.data.partners} />
          </div>
          <div className="flex flex-wrap items-center gap-3">
            <Only right="decide" to="renumber it">
              <button
                type="button"
                className="btn btn-main"
                disabled={apply.isPending}
                onClick={() =>
                  apply.mutate(
                    {
                      revision: preview.data.revision,
                      to: wanted.to,
                      gateway: wanted.gateway || null,
                    },
                    { onSuccess: close },
                  )
                }
              >
                Renumber to {preview.data.cidr}
              </button>
            </Only>
            <a className="btn text-ink no-underline" href={file} download>
              Take the list away (CSV)
            </a>
          </div>
        </div>
      )}
    </LargeDialog>
  );
}

function Devices({ devices }: { devices: Schemas["Renumbered"][] }) {
  const moved = devices.filter((device) => !device.kept).length;
  return (
    <section aria-label="Devices that move">
      <h3 className="font-semibold">
        {devices.length} {devices.length === 1 ? "device moves" : "devices move"}
        {moved > 0 ? `, ${moved} to another host part` : ", all keep their host part"}
      </h3>
      <ol className="mt-1 max-h-80 overflow-auto border-y border-hair text-list" tabIndex={0}>
        {devices.map((device) => (
          <li key={device.device} className="border-b border-hair py-1.5 last:border-0">
            <span className="flex items-center gap-2 font-medium">
              <Mark name={device.new === null ? "broken" : device.kept ? "set" : "off"} word={device.why} />
              <span className="min-w-0 truncate">{device.name}</span>
            </span>
            <span className="font-mono text-small">
              {device.old} → {device.new ?? "no room"}
            </span>
            {!device.kept && <span className="block text-small text-ink-2">{device.why}</span>}
          </li>
        ))}
      </ol>
    </section>
  );
}

function Partners({ partners }: { partners: Schemas["PartnerRow"][] }) {
  return (
    <section aria-label="Settings elsewhere">
      <h3 className="font-semibold">
        {partners.length} {partners.length === 1 ? "setting" : "settings"} elsewhere, in this order
      </h3>
      <ol
        className="mt-1 max-h-80 list-decimal overflow-auto border-y border-hair pl-8 text-list"
        tabIndex={0}
      >
        {partners.map((item) => (
          <li
            key={`${item.device} ${item.setting} ${item.old}`}
            className="border-b border-hair py-1.5 pl-1 last:border-0"
          >
            <b className="font-medium">{item.name}</b>: {item.setting},{" "}
            <span className="font-mono text-small">
              {item.old} → {item.new}
            </span>
            {item.after.length > 0 && (
              <span className="block text-small text-ink-2">once {item.after.join(" and ")} changed</span>
            )}
          </li>
        ))}
        {partners.length === 0 && (
          <li className="list-none py-1.5 text-ink-2">Nobody else holds an address.</li>
        )}
      </ol>
    </section>
  );
}

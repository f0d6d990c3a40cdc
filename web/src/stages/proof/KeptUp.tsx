import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSiteKey } from "../../api/site";
import { DeviceLink } from "../../parts/DeviceLink";
import { Trouble } from "../../parts/Feedback";
import { Handles, pollsPretend, standing, useHandle } from "../../parts/Pretend";
import { useTruncated } from "../../parts/useTruncated";

/** The pretend site, kept up so that its devices can be opened, set and measured again like real ones. */
export function KeptUp({
  up,
  faults,
  started,
}: {
  up: boolean;
  faults: Schemas["PracticeFault"][];
  started: () => void;
}) {
  const [fresh, setFresh] = useState(true);
  const keep = useChange((key, body: Schemas["NewPretend"]) =>
    ask(client.PUT("/api/sites/{key}/pretend", { params: { path: { key } }, body })),
  );
  const down = useChange((key, _: null) =>
    ask(client.DELETE("/api/sites/{key}/pretend", { params: { path: { key } } })),
  );
  const error = keep.error ?? down.error;
  return (
    <section className="mt-6 border-t border-hair pt-3" aria-label="A site to practise on">
      <h2 className="font-semibold">A site to practise on</h2>
      {error && <Trouble error={error} />}
      {up ? (
        <>
          <p className="flex flex-wrap items-center gap-x-4 gap-y-2 py-2">
            <span className="min-w-0 flex-1 basis-72">
              The pretend site is up. Plug a device in, open its page, type there what stands under its name
              here, and measure. What boots or restarts does so ten times as fast.
            </span>
            <button type="button" className="btn" disabled={down.isPending} onClick={() => down.mutate(null)}>
              Take it down
            </button>
          </p>
          <Pages />
        </>
      ) : (
        <div className="flex flex-wrap items-center gap-x-5 gap-y-2 py-2">
          <label className="flex min-h-11 items-center gap-2">
            <input type="checkbox" checked={fresh} onChange={(event) => setFresh(event.target.checked)} />
            every device still in its box, to be plugged in and set one by one as at the bench
          </label>
          <button
            type="button"
            className="btn"
            disabled={keep.isPending}
            onClick={() => keep.mutate({ faults: fresh ? [] : faults, fresh }, { onSuccess: started })}
          >
            {keep.isPending ? "Starting" : "Keep the pretend site running"}
          </button>
        </div>
      )}
    </section>
  );
}

function Pages() {
  const site = useSiteKey();
  const found = useQuery({
    queryKey: ["site", site, "pretend"],
    queryFn: () => ask(client.GET("/api/sites/{key}/pretend", { params: { path: { key: site } } })),
    refetchInterval: ({ state: { data } }) => pollsPretend(...(data?.devices ?? [])),
  });
  const handle = useHandle();
  const [shown, more] = useTruncated(found.data?.devices ?? [], 40);
  if (found.error) return <Trouble error={found.error} />;
  if (!found.data) return <p className="text-small text-ink-2">Looking for its pages.</p>;
  const { relay } = found.data;
  const heads = ["Device", "Now", "Its page on this machine", "User", "Password, made up"];
  return (
    <>
      <p className="pb-2 text-small text-ink-2">
        Put up by {found.data.by} at{" "}
        {new Date(found.data.at).toLocaleTimeString("en-GB", { timeStyle: "short" })}, {begun(found.data)}.
      </p>
      {handle.error && <Trouble error={handle.error} />}
      {relay && (
        <p className="pb-2 text-small">
          What a phone on mobile data would see, by registration code:{" "}
          <a href={relay} target="_blank" rel="noreferrer" className="font-mono">
            {relay}
          </a>
        </p>
      )}
      <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="Pages of the pretend devices">
        <table className="w-full border-collapse text-list">
          <thead>
            <tr className="border-b-2 border-ink text-left text-small">
              {[...heads, ...(relay ? ["Registration code"] : []), "Plug and box"].map((head) => (
                <th key={head} scope="col" className="py-1 pr-4 font-semibold">
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {shown.map((row) => (
              <tr key={row.device} className="border-b border-hair">
                <th scope="row" className="py-1 pr-4 text-left font-semibold">
                  <DeviceLink device={row.device}>{row.name}</DeviceLink>
                </th>
                <td className="min-w-40 pr-4">{standing(row)}</td>
                <td className="pr-4 font-mono whitespace-nowrap">
                  {row.page ? (
                    <a href={row.page} target="_blank" rel="noreferrer">
                      {row.page}
                    </a>
                  ) : (
                    "–"
                  )}
                </td>
                <td className="pr-4 font-mono">{row.user}</td>
                <td className="pr-4 font-mono">{row.password}</td>
                {relay && <td className="pr-4 font-mono">{row.code}</td>}
                <td className="whitespace-nowrap">
                  <Handles row={row} handle={handle} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {more}
    </>
  );
}

function begun({ fresh, faults }: Schemas["PretendSheet"]): string {
  if (fresh) return "with every device in its box";
  return faults ? `as planned but for ${faults} ${faults === 1 ? "fault" : "faults"}` : "as planned";
}

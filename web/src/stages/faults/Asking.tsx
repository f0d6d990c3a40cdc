import { useQuery } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { useSiteKey } from "../../api/site";
import { Trouble } from "../../parts/Feedback";
import { Mark, State } from "../../parts/Mark";

/** Can one end reach another on a port? The way hop by hop, and where it stops. The question stands in the address. */
export function Asking({ devices, ends }: { devices: Schemas["Option"][]; ends: Schemas["Option"][] }) {
  const [search, setSearch] = useSearchParams();
  const asked = {
    start: search.get("from") ?? ends[0]?.value ?? "",
    goal: search.get("to") ?? "",
    port: search.get("port") ?? "80",
    protocol: search.get("udp") === "1" ? ("udp" as const) : ("tcp" as const),
  };
  const set = (parts: Record<string, string | null>) => {
    const next = new URLSearchParams(search);
    for (const [name, value] of Object.entries(parts))
      if (value === null || value === "") next.delete(name);
      else next.set(name, value);
    setSearch(next, { replace: true });
  };
  const port = Number(asked.port);
  const fits = Number.isInteger(port) && port >= 1 && port <= 65_535;
  const site = useSiteKey();
  const found = useQuery({
    queryKey: ["site", site, "reach", asked.start, asked.goal, asked.port, asked.protocol],
    queryFn: () =>
      ask(
        client.GET("/api/sites/{key}/reach", {
          params: { path: { key: site }, query: { ...asked, port } },
        }),
      ),
    enabled: asked.start !== "" && asked.goal !== "" && fits,
    retry: false,
  });
  return (
    <section aria-labelledby="reach" className="border-t-2 border-ink pt-3">
      <h2 id="reach" className="pb-2 text-lead font-semibold">
        Can it be reached?
      </h2>
      <div className="grid gap-2">
        <EndChoice label="from" value={asked.start} groups={[ends, devices]} set={(from) => set({ from })} />
        <EndChoice
          label="to"
          value={asked.goal}
          groups={[ends.filter((item) => item.value === "outside"), devices]}
          set={(to) => set({ to })}
        />
        <div className="flex gap-2">
          <label className="grid gap-0.5 text-cell">
            port
            <input
              className="box w-24 font-mono"
              inputMode="numeric"
              value={asked.port}
              aria-invalid={!fits}
              onChange={(event) => set({ port: event.target.value })}
            />
          </label>
          <label className="grid gap-0.5 text-cell">
            protocol
            <select
              className="box"
              value={asked.protocol}
              onChange={(event) => set({ udp: event.target.value === "udp" ? "1" : null })}
            >
              <option value="tcp">TCP</option>
              <option value="udp">UDP</option>
            </select>
          </label>
        </div>
        {!fits && <p className="text-small text-red">A port is a whole number from 1 to 65535.</p>}
      </div>
      {found.error && <Trouble error={found.error} />}
      {found.data && <Answer row={found.data} />}
    </section>
  );
}

function EndChoice({
  label,
  value,
  groups,
  set,
}: {
  label: string;
  value: string;
  groups: Schemas["Option"][][];
  set: (value: string) => void;
}) {
  return (
    <label className="grid gap-0.5 text-cell">
      {label}
      <select className="box" value={value} onChange={(event) => set(event.target.value)}>
        <option value="">choose …</option>
        {groups.map((group) => (
          <optgroup key={group[0]?.value ?? label} label={group[0]?.value.includes("@") ? "Laptop" : "Ends"}>
            {group.map((item) => (
              <option key={item.value} value={item.value}>
                {item.word}
              </option>
            ))}
          </optgroup>
        ))}
      </select>
    </label>
  );
}

function Answer({ row }: { row: Schemas["ReachRow"] }) {
  return (
    <div className="pt-3" role="status">
      <p className="pb-1 font-semibold">
        <State name={row.reaches ? "proven" : "broken"}>{row.reaches ? "It is reached" : "It stops"}</State>
      </p>
      <ol>
        {row.path.map((hop) => (
          <li key={`${hop.at} ${hop.why}`} className="border-l-4 border-kelp py-1 pl-3 text-small leading-5">
            <b className="font-semibold">{hop.name}</b>
            <span className="block text-ink-2">{hop.why}</span>
          </li>
        ))}
        {!row.reaches && (
          <li className="border-l-4 border-dotted border-red py-1 pl-3 text-small leading-5">
            <span className="flex items-center gap-1.5 font-semibold text-red">
              <Mark name="broken" size={12} /> {row.stops_at}
            </span>
            {row.said} {row.mend && <b className="font-semibold">{row.mend}</b>}
          </li>
        )}
      </ol>
      <p className="pt-2 text-small text-ink-2">
        By the plan and by what is known to be set; nothing was sent.
      </p>
    </div>
  );
}

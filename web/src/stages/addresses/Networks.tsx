import { useEffect, useMemo, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { useKeys } from "../../parts/keys";
import { Legend } from "../../parts/Legend";
import { Mark, type MarkName } from "../../parts/Mark";
import { Problems } from "../../parts/Page";
import type { useDeviceChange } from "../../parts/useDeviceChange";
import { useWidth } from "../../parts/useWidth";
import { AddressGrid, type Target } from "./AddressGrid";
import { Atlas } from "./Atlas";
import { atlasOf, bounds, indexOf, LETTERS, sheetRows, toAddress, toNumber, windowOf } from "./cells";
import { Entails, useMovePreview } from "./Moving";
import { Slip } from "./Slip";

type AddressSheet = Schemas["Addresses"];
type Network = Schemas["NetworkSheet"];
type Problem = Schemas["ProblemRow"];

const LEGEND: [MarkName, string, (network: Network) => number][] = [
  ["gateway", "gateway", (network) => network.spans.filter((span) => span.kind === "gateway").length],
  ["kept", "kept by IT", (network) => addressesOf(network, "kept")],
  ["leased", "DHCP pool", (network) => addressesOf(network, "pool")],
  ["planned", "planned", (network) => inState(network, "planned")],
  ["set", "set", (network) => inState(network, "set")],
  ["proven", "proven", (network) => inState(network, "proven")],
  ["broken", "broken", (network) => inState(network, "broken")],
  ["clash", "clash", (network) => inState(network, "clash")],
  ["free", "free for us", (network) => Math.max(0, network.free - network.devices.length)],
];

function addressesOf(network: Network, kind: string): number {
  return network.spans
    .filter((span) => span.kind === kind)
    .reduce((sum, span) => sum + toNumber(span.last) - toNumber(span.first) + 1, 0);
}

function inState(network: Network, state: string): number {
  return network.devices.filter((device) => device.state === state).length;
}

/** One network's sheet with the slip of the selected cell; a large network has an atlas of its windows above. */
export function Networks({
  data,
  fixes,
  looking,
  look,
  apply,
  change,
}: {
  data: AddressSheet;
  fixes: Problem[];
  looking: Problem | null;
  look: (problem: Problem | null) => void;
  apply: (problem: Problem) => void;
  change: ReturnType<typeof useDeviceChange>;
}) {
  const [search, setSearch] = useSearchParams();
  const [moving, setMoving] = useState<{ device: string; address: string } | null>(null);
  const width = useWidth();
  const wide = width >= 900 ? 32 : width >= 640 ? 16 : 8; // cells in a row
  const chosen = search.get("device");
  const home =
    data.networks.find((item) => item.key === search.get("net")) ??
    data.networks.find((item) => item.devices.some((device) => device.key === chosen)) ??
    data.networks[0];
  const index = useMemo(() => (home ? indexOf(home) : null), [home]);
  const leaves = useMemo(() => (home && index ? atlasOf(home, index) : []), [home, index]);
  const device = home?.devices.find((item) => item.key === chosen);
  const at = search.get("at");
  const selected = device ? toNumber(device.address) : at ? toNumber(at) : null;
  const asked = Number(search.get("from"));
  const has = (from: number | null) => leaves.some((leaf) => leaf.from === from);
  const inside = selected === null ? null : windowOf(selected);
  const busiest = leaves.find((leaf) => leaf.devices > 0) ?? leaves[0];
  const window =
    asked > 0 && has(asked)
      ? asked
      : has(inside)
        ? (inside ?? 0)
        : (busiest?.from ?? (home ? bounds(home.cidr).base : 0));
  const rows = useMemo(
    () => (home && index ? sheetRows(home, index, window, wide) : []),
    [home, index, window, wide],
  );
  useKeys({
    m: device && !device.locked && (() => setMoving({ device: device.key, address: device.address })),
  });
  if (!home || !index) return null;
  const network: Network = home;
  const cell = rows.flatMap((row) => row.cells).find((item) => item.number === selected) ?? null;
  const targets: Target[] = fixes.map((problem, order) => ({
    number: toNumber(problem.move?.address ?? "0.0.0.0"),
    letter: LETTERS[order] ?? "",
  }));
  if (moving && /^\d+\.\d+\.\d+\.\d+$/.test(moving.address))
    targets.push({ number: toNumber(moving.address), letter: "→" });

  function select(number: number) {
    if (moving) {
      setMoving({ ...moving, address: toAddress(number) });
      return;
    }
    const hit = index?.devices.get(number);
    const next: Record<string, string> = { net: network.key };
    if (leaves.length > 1) next.from = String(window);
    if (hit) next.device = hit.key;
    else next.at = toAddress(number);
    setSearch(next, { replace: true });
  }
  return (
    <>
      <NetworkTabs
        networks={data.networks}
        current={network}
        choose={(net) => setSearch({ net })}
        renumber={() => setSearch({ net: network.key, open: `renumber ${network.key}` }, { replace: true })}
      />
      <div className="flex flex-col gap-6 xl:flex-row">
        <div className="min-w-0 xl:flex-1">
          <div className="py-1.5 sm:pl-26">
            <Legend
              label="What the sheet shows"
              entries={LEGEND.map(([mark, word, number]) => [mark, word, number(network)] as const)}
            />
          </div>
          {leaves.length > 1 && (
            <div className="overflow-x-auto">
              <Atlas
                label={`Parts of ${network.label}, 256 addresses each`}
                leaves={leaves}
                current={window}
                wide={wide}
                choose={(from) => setSearch({ net: network.key, from: String(from) }, { replace: true })}
              />
            </div>
          )}
          <div className="overflow-x-auto pb-1">
            <AddressGrid
              rows={rows}
              selected={selected}
              select={select}
              targets={targets}
              label={`Addresses of ${network.label}`}
              drop={(key, number) => {
                const mover = network.devices.find((item) => item.key === key);
                if (!mover || mover.locked) return;
                setSearch({ net: network.key, device: key, from: String(window) }, { replace: true });
                setMoving({ device: key, address: toAddress(number) });
              }}
            />
          </div>
          <div className="mt-3">
            <Problems
              problems={data.problems}
              act={(problem) => {
                const order = fixes.indexOf(problem);
                if (order < 0) return null;
                if (looking === problem)
                  return (
                    <Looking
                      problem={problem}
                      busy={change.isPending}
                      apply={() => apply(problem)}
                      leave={() => look(null)}
                    />
                  );
                return (
                  <button type="button" className="btn" onClick={() => look(problem)}>
                    <kbd className="key">{LETTERS[order]}</kbd>
                    {problem.fix?.replace(/\.$/, "")}…
                  </button>
                );
              }}
            />
            {data.leased > 0 && (
              <p className="mt-2 text-small text-ink-2">
                {data.leased} {data.leased === 1 ? "device takes" : "devices take"} a leased address and stand
                on no sheet.
              </p>
            )}
          </div>
        </div>
        <Slip
          network={network}
          cell={cell}
          change={change}
          revision={data.revision}
          moving={moving}
          setMoving={setMoving}
        />
      </div>
    </>
  );
}

/** A fix that is being looked at: what it entails, then doing it. */
function Looking({
  problem,
  busy,
  apply,
  leave,
}: {
  problem: Problem;
  busy: boolean;
  apply: () => void;
  leave: () => void;
}) {
  const { device, address } = problem.move ?? { device: "", address: "" };
  const preview = useMovePreview(device, address, true);
  const slip = useRef<HTMLDivElement>(null);
  useEffect(() => {
    slip.current?.scrollIntoView({ block: "nearest" });
  }, []);
  return (
    <div
      ref={slip}
      className="w-full border-l-4 border-brass-fill bg-brass-wash px-4 py-2"
      aria-live="polite"
    >
      <p className="flex items-center gap-2 font-semibold">
        <Mark name="turn" /> {problem.fix}
      </p>
      {preview.data && <Entails preview={preview.data} />}
      <div className="mt-2 flex gap-3">
        <button type="button" className="btn btn-main" onClick={apply} disabled={busy}>
          Do it
        </button>
        <button type="button" className="btn" onClick={leave}>
          Leave it
        </button>
      </div>
    </div>
  );
}

function NetworkTabs({
  networks,
  current,
  choose,
  renumber,
}: {
  networks: Network[];
  current: Network;
  choose: (key: string) => void;
  renumber: () => void;
}) {
  return (
    <div className="flex flex-wrap items-center gap-x-4">
      <nav aria-label="Networks" className="flex min-w-0 gap-1 overflow-x-auto">
        {networks.map((network) => (
          <button
            key={network.key}
            type="button"
            aria-current={network.key === current.key ? "page" : undefined}
            onClick={() => choose(network.key)}
            className={`flex min-h-11 shrink-0 items-center gap-2.5 px-3 ${
              network.key === current.key ? "font-semibold shadow-[inset_0_-2px] shadow-ink" : "text-ink-2"
            }`}
          >
            {network.label}
            <span className="font-mono text-list">{network.cidr}</span>
          </button>
        ))}
      </nav>
      {!current.recorder && (
        <button type="button" className="min-h-11 text-kelp underline underline-offset-4" onClick={renumber}>
          Renumber {current.label}…
        </button>
      )}
    </div>
  );
}

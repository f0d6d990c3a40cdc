import { useEffect, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSheet, useSiteKey } from "../../api/site";
import { type Keys, useKeys } from "../../parts/keys";
import { Legend } from "../../parts/Legend";
import type { MarkName } from "../../parts/Mark";
import { NextBar } from "../../parts/NextBar";
import { Empty, Trouble } from "../../parts/Notes";
import { Page, Problems } from "../../parts/Page";
import { bounds, sheetRows, toAddress, toNumber, windowOf, windowsOf } from "./cells";
import { Sheet, type Target } from "./Sheet";
import { Slip } from "./Slip";
import { useDeviceChange } from "./useDeviceChange";

type AddressSheet = Schemas["Addresses"];
type Network = Schemas["NetworkSheet"];
type Problem = Schemas["ProblemRow"];
const LETTERS = "ABCDEF";

/** Which address everything has, and why. */
export function Addresses() {
  const sheet = useSheet("addresses");
  const change = useDeviceChange();
  const plan = useChange((key, revision: number) =>
    ask(client.POST("/api/sites/{key}/plan", { params: { path: { key } }, body: { revision } })),
  );
  const fixes = fixable(sheet.data);
  const apply = (problem: Problem) => {
    const { device, address } = problem.move ?? { device: "", address: "" };
    const now = sheet.data?.networks
      .flatMap((network) => network.devices)
      .find((item) => item.key === device);
    if (now) change.mutate({ device, revision: now.revision, address, locked: false });
  };
  const keys: Keys = Object.fromEntries(
    fixes.map((problem, at) => [LETTERS[at]?.toLowerCase() ?? "", () => apply(problem)]),
  );
  useKeys(keys);
  return (
    <>
      <Page title="Addresses" fetched={sheet}>
        {(data) =>
          data.networks.length === 0 ? (
            <Empty title="No network yet">The survey says which network the devices may live on.</Empty>
          ) : (
            <>
              {plan.error && <Trouble error={plan.error} />}
              <Networks data={data} fixes={fixes} apply={apply} change={change} />
            </>
          )
        }
      </Page>
      {sheet.data && (
        <AddressNext
          data={sheet.data}
          fixes={fixes}
          busy={plan.isPending || change.isPending}
          plan={() => plan.mutate(sheet.data.revision)}
          apply={apply}
        />
      )}
    </>
  );
}

function fixable(data: AddressSheet | undefined): Problem[] {
  return (data?.problems ?? []).filter((problem) => problem.move).slice(0, LETTERS.length);
}

function AddressNext({
  data,
  fixes,
  plan,
  apply,
  busy,
}: {
  data: AddressSheet;
  fixes: Problem[];
  plan: () => void;
  apply: (problem: Problem) => void;
  busy: boolean;
}) {
  const navigate = useNavigate();
  const site = useSiteKey();
  const errors = data.problems.filter((problem) => problem.level === "error");
  const first = fixes[0];
  if (first && errors.length > 0)
    return (
      <NextBar
        sentence={first.message}
        detail={first.fix ?? ""}
        go={{ label: first.fix?.replace(/\.$/, "") ?? "", key: " ", run: () => apply(first), disabled: busy }}
      />
    );
  if (data.unplanned > 0)
    return (
      <NextBar
        sentence={`Give ${data.unplanned} ${data.unplanned === 1 ? "device" : "devices"} the planned address.`}
        detail="What is set stays."
        go={{ label: "Set the plan", key: " ", run: plan, disabled: busy }}
      />
    );
  if (errors[0]) return <NextBar sentence={errors[0].message} detail={errors[0].fix ?? ""} />;
  return (
    <NextBar
      sentence="Every device has its address."
      detail="The bench is next."
      go={{ label: "Go to the bench", key: " ", run: () => navigate(`/sites/${site}/bench`) }}
    />
  );
}

const LEGEND: [MarkName, string, (network: Network) => number][] = [
  ["gateway", "gateway", (network) => network.spans.filter((span) => span.kind === "gateway").length],
  ["kept", "kept by IT", (network) => addressesOf(network, "kept")],
  ["leased", "lease pool", (network) => addressesOf(network, "pool")],
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

function Networks({
  data,
  fixes,
  apply,
  change,
}: {
  data: AddressSheet;
  fixes: Problem[];
  apply: (problem: Problem) => void;
  change: ReturnType<typeof useDeviceChange>;
}) {
  const [search, setSearch] = useSearchParams();
  const wide = useWide();
  const chosen = search.get("device");
  const home =
    data.networks.find((item) => item.key === search.get("net")) ??
    data.networks.find((item) => item.devices.some((device) => device.key === chosen)) ??
    data.networks[0];
  if (!home) return null;
  const network: Network = home;
  const device = network.devices.find((item) => item.key === chosen);
  const at = search.get("at");
  const selected = device ? toNumber(device.address) : at ? toNumber(at) : null;
  const windows = windowsOf(network);
  const asked = Number(search.get("from"));
  const inside = selected !== null && windows.includes(windowOf(selected)) ? windowOf(selected) : null;
  const window =
    windows.includes(asked) && asked > 0 ? asked : (inside ?? windows[0] ?? bounds(network.cidr).base);
  const rows = sheetRows(network, window, wide);
  const cell = rows.flatMap((row) => row.cells).find((item) => item.number === selected) ?? null;
  const targets: Target[] = fixes.map((problem, index) => ({
    number: toNumber(problem.move?.address ?? "0.0.0.0"),
    letter: LETTERS[index] ?? "",
  }));

  function select(number: number) {
    const hit = network.devices.find((item) => toNumber(item.address) === number);
    const next: Record<string, string> = { net: network.key };
    if (windows.length > 1) next.from = String(window);
    if (hit) next.device = hit.key;
    else next.at = toAddress(number);
    setSearch(next, { replace: true });
  }
  return (
    <>
      <NetworkTabs networks={data.networks} current={network.key} choose={(net) => setSearch({ net })} />
      <div className="flex flex-col gap-6 xl:flex-row">
        <div className="min-w-0 xl:flex-1">
          <div className="py-1.5 sm:pl-26">
            <Legend
              label="What the sheet shows"
              entries={LEGEND.map(([mark, word, number]) => [mark, word, number(network)] as const)}
            />
          </div>
          {windows.length > 1 && (
            <WindowTabs
              windows={windows}
              current={window}
              choose={(from) => setSearch({ net: network.key, from: String(from) })}
            />
          )}
          <div className="overflow-x-auto pb-1">
            <Sheet
              rows={rows}
              selected={selected}
              select={select}
              targets={targets}
              label={`Addresses of ${network.label}`}
            />
          </div>
          <div className="mt-3">
            <Problems
              problems={data.problems}
              act={(problem) => {
                const index = fixes.indexOf(problem);
                return (
                  index >= 0 && (
                    <button
                      type="button"
                      className="btn"
                      onClick={() => apply(problem)}
                      disabled={change.isPending}
                    >
                      <kbd className="key">{LETTERS[index]}</kbd>
                      {problem.fix?.replace(/\.$/, "")}
                    </button>
                  )
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
        <Slip network={network} cell={cell} change={change} />
      </div>
    </>
  );
}

/** Cells in a row: 32; 16 where the screen is narrower, 8 under a finger. */
function useWide(): number {
  const measure = () => (window.innerWidth >= 900 ? 32 : window.innerWidth >= 640 ? 16 : 8);
  const [wide, setWide] = useState(measure);
  useEffect(() => {
    const look = () => setWide(measure());
    window.addEventListener("resize", look);
    return () => window.removeEventListener("resize", look);
  });
  return wide;
}

function NetworkTabs({
  networks,
  current,
  choose,
}: {
  networks: Network[];
  current: string;
  choose: (key: string) => void;
}) {
  return (
    <nav aria-label="Networks" className="flex gap-1 overflow-x-auto">
      {networks.map((network) => (
        <button
          key={network.key}
          type="button"
          aria-current={network.key === current ? "page" : undefined}
          onClick={() => choose(network.key)}
          className={`flex min-h-11 shrink-0 items-center gap-2.5 px-3 ${
            network.key === current ? "font-semibold shadow-[inset_0_-2px] shadow-ink" : "text-ink-2"
          }`}
        >
          {network.label}
          <span className="font-mono text-list">{network.cidr}</span>
        </button>
      ))}
    </nav>
  );
}

function WindowTabs({
  windows,
  current,
  choose,
}: {
  windows: number[];
  current: number;
  choose: (from: number) => void;
}) {
  return (
    <label className="my-1 flex items-center gap-2 text-small">
      Part of the network
      <select
        className="box font-mono text-small"
        value={current}
        onChange={(event) => choose(Number(event.target.value))}
      >
        {windows.map((from) => (
          <option key={from} value={from}>
            {toAddress(from).replace(/\.0$/, ".x")}
          </option>
        ))}
      </select>
    </label>
  );
}

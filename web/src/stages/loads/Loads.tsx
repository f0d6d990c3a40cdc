import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { useSheet, useSiteKey } from "../../api/site";
import { Caution } from "../../parts/Caution";
import { Empty } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";
import { NextBar } from "../../parts/NextBar";
import { Page, Problems } from "../../parts/Page";
import { StageNext } from "../../parts/StageNext";
import { TrialBar, TrialTrouble } from "../../parts/Trying";
import { length, size } from "../../parts/units";
import { type Draft, useTrial, useTried } from "../../parts/useTrial";
import { KitParts } from "../kit/KitParts";
import { CableForm } from "./CableForm";
import { Earths } from "./Earths";
import { PatchMap } from "./PatchMap";
import { RecorderRow, SwitchRow, UplinkRows } from "./rows";
import { Supplies } from "./Supplies";
import { SwitchSlip } from "./SwitchSlip";
import { cableWords, VoltLine } from "./VoltLine";

export type Sheet = Schemas["LoadsSheet"];
export type Trial = ReturnType<typeof useTrial>;

/** Whether everything fits: days, watts, ports, cables, supplies and the line, while the kit is still being chosen. */
export function Loads({ part }: { part: "loads" | "ports" }) {
  const sheet = useSheet("loads");
  const trial = useTrial(sheet.data?.was);
  const [viewers, setViewers] = useState(3);
  const draft = trial.draft ?? (viewers === 3 ? null : {});
  const tried = useTried<Sheet>(`loads ${viewers}`, draft, (key, body) =>
    ask(
      client.POST("/api/sites/{key}/loads/preview", { params: { path: { key }, query: { viewers } }, body }),
    ),
  );
  const shown = (draft ? tried.data : undefined) ?? sheet.data;
  const [search, setSearch] = useSearchParams();
  const go = (parts: Record<string, string | null>) => {
    const next = new URLSearchParams(search);
    for (const [name, value] of Object.entries(parts))
      if (value === null) next.delete(name);
      else next.set(name, value);
    setSearch(next, { replace: true });
  };
  const worst = shown?.switches.find((item) => item.verdict === "over") ?? shown?.switches[0];
  const chosen = shown?.switches.find((item) => item.key === search.get("at")) ?? worst;
  return (
    <>
      <Page
        title={part === "loads" ? "Will it fit?" : "Ports"}
        fetched={sheet}
        aside={
          <>
            <KitParts part={part} />
            {shown && (
              <p className="text-ink-2">
                {part === "loads" ? verdict(shown) : "Which plug is in which port."}
              </p>
            )}
          </>
        }
      >
        {() =>
          shown && (
            <>
              <TrialTrouble error={tried.error} trial={trial} />
              {part === "ports" ? (
                <PatchMap shown={shown} trial={trial} />
              ) : shown.recorders.length + shown.switches.length + shown.supplies.length === 0 ? (
                <>
                  <Empty title="Nothing here has a limit yet">
                    Recorders, switches and power supplies stand here once they are in the kit.
                  </Empty>
                  <Supplies shown={shown} trial={trial} />
                </>
              ) : (
                <div className="flex flex-col gap-6 pt-2 xl:flex-row">
                  <div className="min-w-0 flex-1">
                    {shown.recorders.map((item) => (
                      <RecorderRow key={item.key} item={item} />
                    ))}
                    {shown.switches.map((item) => (
                      <SwitchRow
                        key={item.key}
                        item={item}
                        chosen={item.key === chosen?.key}
                        choose={() => go({ at: item.key })}
                        most={Math.max(
                          ...shown.switches.map((one) => Math.max(one.budget_w ?? 0, one.by_class_w)),
                        )}
                      />
                    ))}
                    {shown.uplinks.length > 0 && <UplinkRows uplinks={shown.uplinks} />}
                    {shown.cables.map((item) => (
                      <CableRow key={item.device} item={item} shown={shown} trial={trial} />
                    ))}
                    {shown.long_cables.length > 0 && (
                      <Row title="Long cables" detail={`over ${length(100, shown.units)}`}>
                        <ul>
                          {shown.long_cables.map((item) => (
                            <li key={item.device} className="flex items-center gap-2">
                              <Mark name="off" /> {item.name}: {length(item.length_m, shown.units)}
                            </li>
                          ))}
                        </ul>
                      </Row>
                    )}
                    <Line shown={shown} viewers={viewers} setViewers={setViewers} />
                    {shown.panels.map((item) => (
                      <Row key={item.device} title={item.name} detail="current for its locks">
                        <p className="flex flex-wrap items-center gap-2">
                          <Mark name={item.ok ? "set" : "off"} />
                          <b>{item.lock_a_wanted.toFixed(2)} A</b> of {item.lock_a_free.toFixed(2)} A are
                          taken
                          {!item.ok && "; give the locks a supply of their own"}
                        </p>
                      </Row>
                    ))}
                    <Supplies shown={shown} trial={trial} />
                    <Earths shown={shown} trial={trial} />
                    <div className="mt-4">
                      <Problems problems={shown.problems} />
                    </div>
                  </div>
                  {chosen && (
                    <aside aria-label="Chosen switch" className="slip w-full self-start xl:w-82 xl:shrink-0">
                      <SwitchSlip key={chosen.key} item={chosen} trial={trial} />
                    </aside>
                  )}
                </div>
              )}
            </>
          )
        }
      </Page>
      {shown && <Next shown={shown} trial={trial} wrong={tried.error !== null} part={part} />}
    </>
  );
}

function verdict(shown: Sheet): string {
  const misses = shown.misses;
  if (misses.length === 0) return "Everything that is known fits.";
  const words = ["no", "One thing does", "Two things do", "Three things do", "Four things do"][misses.length];
  return `${words ?? `${misses.length} things do`} not: ${misses.join(", ")}.`;
}

export function Row({
  title,
  detail,
  children,
}: {
  title: string;
  detail?: string;
  children: React.ReactNode;
}) {
  return (
    <section
      className="grid gap-x-4 gap-y-1 border-t border-hair py-2 md:grid-cols-[112px_minmax(0,1fr)]"
      aria-label={title}
    >
      <div className="min-w-0">
        <h2 className="truncate text-list font-semibold" title={title}>
          {title}
        </h2>
        {detail && <p className="text-cell text-ink-2">{detail}</p>}
      </div>
      <div className="min-w-0">{children}</div>
    </section>
  );
}

function CableRow({ item, shown, trial }: { item: Schemas["SupplyCable"]; shown: Sheet; trial: Trial }) {
  const [open, setOpen] = useState(false);
  const better = item.ok === false ? item.sizes.find((one) => one.ok) : undefined;
  return (
    <Row
      title={item.name}
      detail={`${item.supply_v} V${item.watts ? `, ${item.watts} W` : ""}, ${length(item.length_m, shown.units)} from ${item.supply_name}`}
    >
      <div className="flex flex-wrap items-end gap-x-6 gap-y-2">
        <div className="min-w-0 flex-1 basis-96">
          <VoltLine cable={item} units={shown.units} />
        </div>
        <div className="grid gap-2 pb-2">
          <p className={item.ok === false ? "font-semibold text-brass" : ""}>{cableWords(item)}</p>
          {better && better.volts !== null && (
            <button
              type="button"
              className="btn"
              onClick={() =>
                trial.changeDevice(item.device, {
                  fed: {
                    supply: item.supply,
                    m: item.length_m,
                    celsius: item.celsius,
                    ...(item.awg !== null ? { awg: better.size } : { mm2: better.size }),
                  },
                })
              }
            >
              Take {item.awg !== null ? size(null, better.size) : size(better.size, null)}
              <span className="font-normal text-ink-2">{better.volts.toFixed(2)} V</span>
            </button>
          )}
          <button
            type="button"
            className="min-h-11 text-left underline underline-offset-4"
            onClick={() => setOpen(!open)}
          >
            Change the cable
          </button>
        </div>
      </div>
      {open && (
        <CableForm
          device={item.device}
          cable={item}
          shown={shown}
          trial={trial}
          close={() => setOpen(false)}
        />
      )}
    </Row>
  );
}

function Line({
  shown,
  viewers,
  setViewers,
}: {
  shown: Sheet;
  viewers: number;
  setViewers: (number: number) => void;
}) {
  const line = shown.line;
  if (!line)
    return (
      <Row title="Line" detail="to the outside">
        <p className="text-ink-2">Its upstream is not known, or there is none: ask in the survey.</p>
      </Row>
    );
  return (
    <Row title="Line" detail={`${line.usable_mbps.toFixed(1)} of ${line.upstream_mbps} Mbit/s for pictures`}>
      <div className="flex flex-wrap items-center gap-x-6 gap-y-1">
        <p>
          <b>{line.main_viewers ?? "–"}</b> at once on the main stream
          {line.main_mbps !== null && (
            <span className="text-ink-2"> of {line.main_mbps.toFixed(1)} Mbit/s</span>
          )}
          , <b>{line.sub_viewers ?? "–"}</b> on the sub stream
          {line.sub_mbps !== null && <span className="text-ink-2"> of {line.sub_mbps.toFixed(1)}</span>}
        </p>
        <label className="flex items-center gap-2 text-small">
          For
          <input
            type="number"
            className="box w-18 font-mono"
            min={1}
            max={50}
            value={viewers}
            onChange={(event) =>
              setViewers(Math.min(50, Math.max(1, Math.round(Number(event.target.value)) || 1)))
            }
          />
          people at once
        </label>
      </div>
      <ul className="flex flex-wrap gap-x-5 text-small">
        {line.mixes.slice(0, 8).map((mix) => (
          <li key={mix.main} className="flex items-center gap-1.5 py-1">
            <Mark name={mix.fits ? "set" : "off"} word={mix.fits ? "fits" : "does not fit"} />
            {mix.main} main and {mix.sub} sub: {mix.mbps.toFixed(1)} Mbit/s
          </li>
        ))}
      </ul>
    </Row>
  );
}

/** What works at mains, where a supply is set up. */
export function MainsCaution() {
  return (
    <Caution>
      Mains work and earthing are for licensed people under the local rules. Switch off, lock it, and test
      that it is dead before anything is touched.
    </Caution>
  );
}

function Next({
  shown,
  trial,
  wrong,
  part,
}: {
  shown: Sheet;
  trial: Trial;
  wrong: boolean;
  part: "loads" | "ports";
}) {
  const navigate = useNavigate();
  const site = useSiteKey();
  if (trial.draft) return <TrialBar trial={trial} wrong={wrong} detail={verdict(shown)} />;
  const { moves, left } = shown.balance;
  const [first] = moves;
  if (first && part === "loads") {
    const many = moves.length > 1 ? ` ${moves.length} plugs are moved in all.` : "";
    const rest = left.length ? ` For ${left.join(", ")} there is no room.` : "";
    return (
      <NextBar
        sentence={`Feed ${first.name} from ${first.to_name}${first.port ? `, port ${first.port}` : ""}.`}
        detail={`Then every switch has ports and watts enough.${many}${rest}`}
        go={{
          label: moves.length > 1 ? `Move ${moves.length} plugs` : "Move it",
          key: " ",
          run: () => trial.change({ devices: merged(trial.draft, shown.balance.devices) }),
        }}
      />
    );
  }
  const short = shown.recorders.find(
    (item) => item.days !== null && item.wanted_days !== null && item.days < item.wanted_days,
  );
  if (short && part === "loads")
    return (
      <NextBar
        sentence={`${short.name} keeps ${Math.floor((short.days ?? 0) * 10) / 10} of ${short.wanted_days} days.`}
        detail="The recordings show what would keep them."
        go={{
          label: "Go to recording",
          key: " ",
          run: () => navigate(`/sites/${site}/recording?recorder=${short.key}`),
        }}
      />
    );
  return <StageNext stage="kit" acts={() => undefined} />;
}

function merged(draft: Draft | null, devices: Record<string, Record<string, unknown>>) {
  const known = draft?.devices ?? {};
  return {
    ...known,
    ...Object.fromEntries(Object.entries(devices).map(([key, parts]) => [key, { ...known[key], ...parts }])),
  };
}

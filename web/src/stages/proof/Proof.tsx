import { useState } from "react";
import { useNavigate } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSheet, useSiteKey } from "../../api/site";
import { Empty, Trouble } from "../../parts/Feedback";
import { Legend, type LegendEntry } from "../../parts/Legend";
import { NextBar } from "../../parts/NextBar";
import { Page } from "../../parts/Page";
import { Changes, RanOut } from "./Changes";
import { KeptUp } from "./KeptUp";
import { LiveWork } from "./LiveWork";
import { MatrixBands } from "./MatrixBands";
import { Practice } from "./Practice";
import { RulesOfProof } from "./Rules";
import { timeLeft, useRunning } from "./useRunning";
import { showFirst, toSee, Witnessing } from "./Witnessing";

type Sheet = Schemas["ProofSheet"];
type Fault = Schemas["PracticeFault"];

/** What was measured, device by device and check by check. */
export function Proof() {
  const sheet = useSheet("proof");
  const site = useSiteKey();
  const navigate = useNavigate();
  const [faults, setFaults] = useState<Fault[]>([]);
  const start = useChange((key, body: Schemas["NewProof"]) =>
    ask(client.POST("/api/sites/{key}/proofs", { params: { path: { key } }, body })),
  );
  const stop = useChange((key, number: number) =>
    ask(client.DELETE("/api/sites/{key}/proofs/{number}", { params: { path: { key, number } } })),
  );
  const run = useRunning(sheet.data?.last ?? null);
  const measuring = run !== null && (run.state === "waiting" || run.state === "running");
  const [wantsReal, setReal] = useState(false);
  const real = wantsReal && (sheet.data?.live.authority?.holds ?? false);
  const begin = (only: string[] | null = null, checks: string[] | null = null) =>
    start.mutate({ faults: real ? [] : faults, only, checks, live: real });
  const data = sheet.data;
  return (
    <>
      <Page
        title="Proof"
        fetched={sheet}
        aside={
          data && data.columns.length > 0 && <Legend label="What the sheet shows" entries={legendOf(data)} />
        }
      >
        {(loaded) =>
          loaded.columns.length === 0 ? (
            <Empty title="Nothing to measure yet">The kit holds no device with a service to ask.</Empty>
          ) : (
            <>
              {start.error && <Trouble error={start.error} />}
              {run?.state === "failed" && <Trouble error={new Error(run.message)} />}
              {loaded.live.on && <LiveWork live={loaded.live} real={real} choose={setReal} />}
              <div className="flex flex-col">
                <div className="max-md:order-2">
                  <MatrixBands sheet={loaded} again={measuring ? undefined : begin} />
                </div>
                <Witnessing sheet={loaded} />
              </div>
              <Changes changes={loaded.changes} />
              <RanOut rows={loaded.ran_out} />
              <RulesOfProof />
              {!real && !loaded.kept_up && <Practice sheet={loaded} faults={faults} setFaults={setFaults} />}
              {!real && <KeptUp up={loaded.kept_up} faults={faults} started={() => setFaults([])} />}
            </>
          )
        }
      </Page>
      {data &&
        data.columns.length > 0 &&
        (measuring && run ? (
          <NextBar
            busy
            sentence={`Measuring: ${run.measured} of ${run.total} devices${timeLeft(run)}.`}
            detail={
              run.live
                ? "The real devices, slowly."
                : faults.length > 0
                  ? "The stand-in plays its faults."
                  : "Asked politely, each once."
            }
            others={[{ label: "Stop", key: "Escape", run: () => stop.mutate(run.id) }]}
          />
        ) : (
          <Following
            sheet={data}
            real={real}
            begin={begin}
            busy={start.isPending}
            leave={() => navigate(`/sites/${site}/handover`)}
          />
        ))}
    </>
  );
}

/** The one next thing of the proof: what is broken, what is to be measured, what somebody has to see, the handover. */
function Following({
  sheet,
  real,
  begin,
  busy,
  leave,
}: {
  sheet: Sheet;
  real: boolean;
  begin: (only?: string[] | null, checks?: string[] | null) => void;
  busy: boolean;
  leave: () => void;
}) {
  const broken = sheet.columns.filter((column) => column.state === "broken");
  const failed = sheet.cells.filter((cell) => cell.state === "broken" && !cell.witnessed);
  const unmeasured = sheet.cells.some(
    (cell) => !cell.witnessed && !["proven", "excepted"].includes(cell.state),
  );
  const see = toSee(sheet);
  const again = { label: "Measure again", key: "r", run: () => begin() };
  if (broken[0])
    return (
      <NextBar
        sentence={`${broken[0].name} is broken${broken.length > 1 ? `, and ${broken.length - 1} more` : ""}.`}
        detail="Put it right, then measure again."
        others={
          failed.length > 0
            ? [
                {
                  label: "Only what failed",
                  key: "r",
                  run: () => begin(unique(failed, "device"), unique(failed, "check")),
                },
              ]
            : []
        }
        go={{ label: "Measure all again", key: " ", run: () => begin(), disabled: busy }}
      />
    );
  if (unmeasured)
    return (
      <NextBar
        sentence={`Measure ${sheet.columns.length} devices.`}
        detail={real ? "The real devices answer." : "The pretend site answers on this machine."}
        go={{ label: "Measure", key: " ", run: () => begin(), disabled: busy }}
      />
    );
  if (see[0])
    return (
      <NextBar
        sentence={`See for yourself: ${see[0].name}, ${see[0].title.toLowerCase()}.`}
        detail={see.length > 1 ? `${see.length} things are left to see.` : "It is the last thing to see."}
        others={[again]}
        go={{ label: "Show it", key: " ", run: showFirst }}
      />
    );
  const left = sheet.coverage.excepted;
  return (
    <NextBar
      sentence={left > 0 ? "Everything that counts is proven." : "Every device is proven."}
      detail={left > 0 ? `${left} left open by decision. The handover is next.` : "The handover is next."}
      others={[again]}
      go={{ label: "Go to the handover", key: " ", run: leave }}
    />
  );
}

function unique(cells: Schemas["Cell"][], name: "device" | "check"): string[] {
  return [...new Set(cells.map((cell) => cell[name]))];
}

function legendOf(sheet: Sheet): LegendEntry[] {
  const count = (state: string) => sheet.cells.filter((cell) => cell.state === state).length;
  return [
    ["proven", "proven", count("proven")],
    ["broken", "broken", count("broken")],
    ["off", "stale", count("stale")],
    ["unread", "not measured", count("not-measured")],
    ["planned", "planned", count("planned")],
    ["left", "left open", count("excepted")],
  ];
}

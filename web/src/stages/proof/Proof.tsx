import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSheet } from "../../api/site";
import { Empty, Trouble } from "../../parts/Feedback";
import { Legend, type LegendEntry } from "../../parts/Legend";
import { NextBar } from "../../parts/NextBar";
import { Page } from "../../parts/Page";
import { StageNext } from "../../parts/StageNext";
import { Changes, RanOut } from "./Changes";
import { KeptUp } from "./KeptUp";
import { LiveWork } from "./LiveWork";
import { MatrixBands } from "./MatrixBands";
import { Practice } from "./Practice";
import { PracticeCopy } from "./PracticeCopy";
import { RulesOfProof } from "./Rules";
import { timeLeft, useRunning } from "./useRunning";
import { showFirst, Witnessing } from "./Witnessing";

type Sheet = Schemas["ProofSheet"];
type Fault = Schemas["PracticeFault"];

/** What was measured, device by device and check by check. */
export function Proof() {
  const sheet = useSheet("proof");
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
  const playing = data !== undefined && !real && !data.practice; // what is measured proves nothing here
  return (
    <>
      <Page
        title="Proof"
        fetched={sheet}
        aside={
          data &&
          data.columns.length > 0 && (
            <>
              <Legend label="What the sheet shows" entries={legendOf(data)} />
              <Link className="ml-auto inline-flex min-h-11 items-center text-small" to="../faults">
                Something is offline
              </Link>
            </>
          )
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
              {playing && <PracticeCopy measured={loaded.last?.state === "done" && !loaded.last.live} />}
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
          <Following sheet={data} begin={begin} busy={start.isPending} playing={playing} />
        ))}
    </>
  );
}

/** The one next thing of the proof: what is broken, what is to be measured, what somebody has to see, the handover. */
function Following({
  sheet,
  begin,
  busy,
  playing,
}: {
  sheet: Sheet;
  begin: (only?: string[] | null, checks?: string[] | null) => void;
  busy: boolean;
  playing: boolean;
}) {
  const [, setSearch] = useSearchParams();
  const failed = sheet.cells.filter((cell) => cell.state === "broken" && !cell.witnessed);
  const again = { label: "Measure again", key: "r", run: () => begin() };
  const onlyFailed = {
    label: "Only what failed",
    key: "r",
    run: () => begin(unique(failed, "device"), unique(failed, "check")),
  };
  function showBroken() {
    const first = sheet.cells.find((cell) => cell.state === "broken");
    if (first) setSearch({ device: first.device, check: first.check });
  }
  return (
    <StageNext
      stage="proof"
      acts={({ act }) => {
        if (act === "again") return { label: "Show what failed", run: showBroken };
        if (act === "measure")
          return {
            label: playing ? "Measure the pretend site" : "Measure",
            run: () => begin(),
            disabled: busy,
          };
        if (act === "see") return { label: "Show it", run: showFirst };
      }}
      others={({ act }) =>
        act === "again" ? (failed.length > 0 ? [onlyFailed] : [again]) : act === "measure" ? [] : [again]
      }
    />
  );
}

function unique(cells: Schemas["ProofRow"][], name: "device" | "check"): string[] {
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

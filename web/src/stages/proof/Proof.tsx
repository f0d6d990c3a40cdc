import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSheet, useSiteKey } from "../../api/site";
import { DeviceLink } from "../../parts/DeviceLink";
import { Legend, type LegendEntry } from "../../parts/Legend";
import { State } from "../../parts/Mark";
import { NextBar } from "../../parts/NextBar";
import { Empty, Trouble } from "../../parts/Notes";
import { Page } from "../../parts/Page";
import { useFirst } from "../../parts/useFirst";
import { LiveWork } from "./LiveWork";
import { CELL_MARKS, CELL_WORDS, Matrix } from "./Matrix";
import { bandsOf, byKey, cellKey, letterWords, numbered } from "./matrix";
import { Practice } from "./Practice";

type Sheet = Schemas["ProofSheet"];
type Run = Schemas["ProofRun"];
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
  const begin = (only: string[] | null = null) =>
    start.mutate({ faults: real ? [] : faults, only, live: real });
  const data = sheet.data;
  const broken = data?.columns.filter((column) => column.state === "broken") ?? [];
  const open = data?.columns.filter((column) => column.state !== "proven") ?? [];
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
              <Sheets sheet={loaded} again={measuring ? undefined : (devices) => begin(devices)} />
              <Changes changes={loaded.changes} />
              {!real && <Practice sheet={loaded} faults={faults} setFaults={setFaults} />}
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
        ) : open.length === 0 ? (
          <NextBar
            sentence="Every device is proven."
            detail="The handover is next."
            others={[{ label: "Measure again", key: "r", run: () => begin() }]}
            go={{ label: "Go to the handover", key: " ", run: () => navigate(`/sites/${site}/handover`) }}
          />
        ) : (
          <NextBar
            sentence={
              broken[0]
                ? `${broken[0].name} is broken${broken.length > 1 ? `, and ${broken.length - 1} more` : ""}.`
                : `Measure ${data.columns.length} devices.`
            }
            detail={
              broken[0]
                ? "Put it right, then measure again."
                : real
                  ? "The real devices answer."
                  : "The pretend site answers on this machine."
            }
            others={
              broken.length > 0
                ? [{ label: "Only the broken", key: "r", run: () => begin(broken.map((item) => item.key)) }]
                : []
            }
            go={{
              label: broken[0] ? "Measure all again" : "Measure",
              key: " ",
              run: () => begin(),
              disabled: start.isPending,
            }}
          />
        ))}
    </>
  );
}

/** The running measurement, told by the server as it goes; the sheet is fetched anew on the way and at the end. */
function useRunning(last: Run | null): Run | null {
  const site = useSiteKey();
  const queries = useQueryClient();
  const [told, setTold] = useState<Run | null>(null);
  const id = last?.id;
  const going = last?.state === "waiting" || last?.state === "running";
  useEffect(() => {
    if (!going || id === undefined) return;
    const stream = new EventSource(`/api/sites/${site}/proofs/${id}/events`);
    let fetchedAt = 0;
    stream.onmessage = (event) => {
      const news = JSON.parse(event.data) as Pick<Run, "state" | "measured" | "total" | "message">;
      setTold((before) => ({ ...(before ?? (last as Run)), ...news, id }));
      const ended = news.state !== "waiting" && news.state !== "running";
      if (ended) stream.close();
      if (ended || Date.now() - fetchedAt > 1000) {
        fetchedAt = Date.now();
        queries.invalidateQueries({ queryKey: ["site", site] });
      }
    };
    return () => stream.close();
  }, [going, id, site, queries, last]);
  return told && told.id === id && going ? told : last;
}

/** How long the rest takes at the pace so far, once there is a pace to speak of. */
function timeLeft(run: Run): string {
  const past = (Date.now() - new Date(run.started_at).getTime()) / 1000;
  if (past < 3 || run.measured < 5 || run.measured >= run.total) return "";
  const left = (past * (run.total - run.measured)) / run.measured;
  return left < 90 ? `, about ${Math.ceil(left)} s left` : `, about ${Math.ceil(left / 60)} min left`;
}

function legendOf(sheet: Sheet): LegendEntry[] {
  const count = (state: string) => sheet.cells.filter((cell) => cell.state === state).length;
  return [
    ["proven", "proven", count("proven")],
    ["broken", "broken", count("broken")],
    ["off", "stale", count("stale")],
    ["unread", "not measured", count("not-measured")],
    ["planned", "planned", count("planned")],
  ];
}

const RESULTS: Record<string, string> = {
  pass: "passed",
  fail: "failed",
  silent: "was silent",
  skipped: "was skipped",
};

/** What came out otherwise than the time before. */
function Changes({ changes }: { changes: Sheet["changes"] }) {
  const [shown, more] = useFirst(changes, 20);
  if (changes.length === 0) return null;
  return (
    <section aria-label="What changed since the measuring before" className="mt-6">
      <h2 className="border-b-2 border-ink pb-1 font-semibold">What changed since the measuring before</h2>
      <ul className="text-list">
        {shown.map((change) => (
          <li
            key={`${change.device} ${change.check}`}
            className="flex flex-wrap gap-x-4 border-b border-hair py-1"
          >
            <span className="w-56 truncate font-semibold">
              <DeviceLink device={change.device}>{change.name}</DeviceLink>
            </span>
            <span className="w-56">{change.title}</span>
            <span className="min-w-0 flex-1 basis-72">
              {RESULTS[change.before] ?? change.before}, now {RESULTS[change.now] ?? change.now}:{" "}
              {change.measured}
            </span>
          </li>
        ))}
      </ul>
      {more}
    </section>
  );
}

type Again = ((devices: string[]) => void) | undefined;
const SHOWN: [string, string, Schemas["Cell"]["state"][]][] = [
  ["", "all devices", []],
  ["broken", "what is broken", ["broken"]],
  ["stale", "what is stale", ["stale"]],
  ["never", "what was never asked", ["planned", "not-measured"]],
];

function Sheets({ sheet: whole, again }: { sheet: Sheet; again: Again }) {
  const site = useSiteKey();
  const [search, setSearch] = useSearchParams();
  const shown = search.get("show") ?? "";
  const states = SHOWN.find(([key]) => key === shown)?.[2] ?? [];
  const sheet = useMemo(() => {
    if (states.length === 0) return whole;
    const wanted = new Set(
      whole.cells.filter((item) => states.includes(item.state)).map((item) => item.device),
    );
    return { ...whole, columns: whole.columns.filter((column) => wanted.has(column.key)) };
  }, [whole, states]);
  const device = search.get("device");
  const check = search.get("check");
  const selected = device && check ? cellKey(device, check) : null;
  const wide = useColumns();
  const bands = useMemo(() => bandsOf(sheet.columns, wide), [sheet.columns, wide]);
  const cells = useMemo(() => byKey(sheet.cells), [sheet.cells]);
  const numbers = useMemo(() => numbered(whole.columns), [whole.columns]);
  const select = useCallback(
    (key: string, name: string) =>
      setSearch({ device: key, check: name, ...(shown ? { show: shown } : {}) }, { replace: true }),
    [setSearch, shown],
  );
  const cell = selected ? cells.get(selected) : undefined;
  return (
    <>
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1 pb-1 text-small">
        <label className="flex items-center gap-2">
          Show
          <select
            className="box min-h-9 text-small"
            value={shown}
            onChange={(event) =>
              setSearch(event.target.value ? { show: event.target.value } : {}, { replace: true })
            }
          >
            {SHOWN.map(([key, word]) => (
              <option key={key} value={key}>
                {word}
              </option>
            ))}
          </select>
        </label>
        {shown && sheet.columns.length > 0 && again && (
          <button
            type="button"
            className="min-h-11 underline underline-offset-4"
            onClick={() => again(sheet.columns.map((column) => column.key))}
          >
            Measure these {sheet.columns.length} again
          </button>
        )}
        <b className="font-semibold">{whole.coverage.sentence}</b>
        <span className="flex flex-wrap gap-x-4 md:ml-auto">
          {(["pdf", "xlsx", "csv", "json"] as const).map((ending) => (
            <a
              key={ending}
              className="inline-flex min-h-11 items-center"
              href={`/api/sites/${site}/proof.${ending}`}
              download
            >
              {ending.toUpperCase()}
            </a>
          ))}
        </span>
      </div>
      {sheet.columns.length === 0 && <p className="py-6 text-ink-2">No device is like that.</p>}
      <p className="pb-1 text-note text-ink-2">{letterWords(sheet.columns)}</p>
      <Matrix
        bands={bands}
        checks={sheet.checks}
        cells={cells}
        numbers={numbers}
        selected={selected}
        select={select}
        slip={
          cell && (
            <CellSlip
              sheet={sheet}
              cell={cell}
              again={again}
              close={() => setSearch(shown ? { show: shown } : {}, { replace: true })}
            />
          )
        }
      />
    </>
  );
}

/** How many columns of 24 px stand beside the check's name and before the sum. */
function useColumns(): number {
  const measure = () => Math.max(6, Math.floor((Math.min(window.innerWidth, 1600) - 330) / 25.5));
  const [columns, setColumns] = useState(measure);
  useEffect(() => {
    const look = () => setColumns(measure());
    window.addEventListener("resize", look);
    return () => window.removeEventListener("resize", look);
  });
  return columns;
}

function CellSlip({
  sheet,
  cell,
  again,
  close,
}: {
  sheet: Sheet;
  cell: Schemas["Cell"];
  again: Again;
  close: () => void;
}) {
  const column = sheet.columns.find((item) => item.key === cell.device);
  const title = sheet.checks.find((item) => item.check === cell.check)?.title;
  const bad = cell.state === "broken";
  return (
    <section
      aria-label="Selected reading"
      className={`mt-4 flex flex-wrap gap-x-10 gap-y-4 border border-t-[3px] bg-sheet p-5 ${
        bad ? "border-hair border-t-red" : "border-hair border-t-ink"
      }`}
    >
      <div className="min-w-56 flex-1">
        <h2 className="text-lead font-semibold">
          {column && <DeviceLink device={column.key}>{column.name}</DeviceLink>}
        </h2>
        <p className="font-mono">{column?.address ?? "no address"}</p>
        <p className="text-small text-ink-2">{column?.place}</p>
      </div>
      <dl className="grid flex-[2] grid-cols-[auto_1fr] gap-x-5 gap-y-1">
        <dt className="font-semibold">{title}</dt>
        <dd>
          <State name={CELL_MARKS[cell.state]}>{CELL_WORDS[cell.state]}</State>
        </dd>
        <dt className="text-ink-2">Expected</dt>
        <dd>{cell.expected}</dd>
        <dt className="text-ink-2">Measured</dt>
        <dd className={bad ? "font-semibold text-red" : ""}>{cell.measured ?? "nothing yet"}</dd>
        <dt className="text-ink-2">When</dt>
        <dd>
          {cell.at
            ? `${new Date(cell.at).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "medium" })}${cell.by ? `, started by ${cell.by}` : ""}`
            : "never"}
          {cell.took_ms !== null && `, in ${cell.took_ms} ms`}
        </dd>
      </dl>
      <div className="flex flex-col gap-2">
        {again && (
          <button type="button" className="btn" onClick={() => again([cell.device])}>
            Look again
          </button>
        )}
        <button type="button" className="min-h-11 text-small font-semibold underline" onClick={close}>
          Close
        </button>
      </div>
    </section>
  );
}

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSiteKey } from "../../api/site";
import { DeviceLink } from "../../parts/DeviceLink";
import { Trouble } from "../../parts/Feedback";
import { State } from "../../parts/Mark";
import { useOpening } from "../faults/useCase";
import { dayOf } from "./Changes";
import { LeftOpen } from "./LeftOpen";
import { CELL_MARKS, CELL_WORDS } from "./Matrix";
import type { Again } from "./MatrixBands";
import { Seen } from "./Seen";

type Sheet = Schemas["ProofSheet"];

/** One reading in full: what was expected and seen, what came over the wire, and what can be done about it. */
export function CellSlip({
  sheet,
  cell,
  again,
  close,
}: {
  sheet: Sheet;
  cell: Schemas["ProofRow"];
  again: Again;
  close: () => void;
}) {
  const column = sheet.columns.find((item) => item.key === cell.device);
  const check = sheet.checks.find((item) => item.check === cell.check);
  const bad = cell.state === "broken";
  const [wire, setWire] = useState(false);
  if (!column || !check) return null;
  return (
    <section
      aria-label="Selected reading"
      className={`grid grid-cols-1 gap-4 border border-t-[3px] bg-sheet p-5 ${
        bad ? "border-hair border-t-red" : "border-hair border-t-ink"
      }`}
    >
      <div className="flex flex-wrap gap-x-10 gap-y-4">
        <div className="min-w-56 flex-1">
          <h2 className="text-lead font-semibold">
            <DeviceLink device={column.key}>{column.name}</DeviceLink>
          </h2>
          <p className="font-mono">{column.address ?? "no address"}</p>
          <p className="text-small text-ink-2">{column.place}</p>
        </div>
        <dl className="grid min-w-0 grow-2 basis-80 grid-cols-[auto_1fr] content-start gap-x-5 gap-y-1">
          <dt className="font-semibold">{check.title}</dt>
          <dd>
            <State name={CELL_MARKS[cell.state]}>{CELL_WORDS[cell.state]}</State>
          </dd>
          <dt className="text-ink-2">Expected</dt>
          <dd className="[overflow-wrap:anywhere]">{cell.expected}</dd>
          <dt className="text-ink-2">{cell.witnessed ? "Seen" : "Measured"}</dt>
          <dd className={`[overflow-wrap:anywhere] ${bad ? "font-semibold text-red" : ""}`}>
            {cell.measured ?? "nothing yet"}
          </dd>
          <dt className="text-ink-2">When</dt>
          <dd>
            {cell.at
              ? `${new Date(cell.at).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "medium" })}${cell.by ? `, ${cell.witnessed ? "written down" : "started"} by ${cell.by}` : ""}`
              : "never"}
            {cell.took_ms !== null && `, in ${cell.took_ms} ms`}
          </dd>
          {cell.practice && (
            <>
              <dt className="text-ink-2">In practice</dt>
              <dd>{cell.practice} at the pretend site, which proves nothing here</dd>
            </>
          )}
          {cell.changed.length > 0 && (
            <>
              <dt className="text-ink-2">Since then</dt>
              <dd>{cell.changed.join("; ")}</dd>
            </>
          )}
          {cell.left_open && (
            <>
              <dt className="text-ink-2">Left open</dt>
              <dd>
                {cell.left_open.reason}
                {cell.left_open.by && `, ${cell.left_open.by}`}
                {cell.left_open.until && `, until ${dayOf(cell.left_open.until)}`}
                {cell.left_open.whole && " (the whole device)"}
              </dd>
            </>
          )}
        </dl>
        <div className="flex flex-col gap-2">
          {again && !cell.witnessed && (
            <button type="button" className="btn" onClick={() => again([cell.device], [cell.check])}>
              Measure this check again
            </button>
          )}
          {again && (
            <button type="button" className="btn" onClick={() => again([cell.device])}>
              Measure this device again
            </button>
          )}
          {bad && FAULT_CHECKS[cell.check] && <FindFault device={cell.device} check={cell.check} />}
          <button type="button" className="min-h-11 text-small font-semibold underline" onClick={close}>
            Close
          </button>
        </div>
      </div>
      {cell.witnessed && <Seen key={cell.check} cell={cell} check={check} name={column.name} />}
      {cell.check === "certificate" && bad && <OtherCertificate device={cell.device} />}
      <div className="flex flex-wrap items-start gap-x-6 gap-y-2">
        {!cell.witnessed && cell.at && (
          <button
            type="button"
            className="min-h-11 text-small font-semibold underline"
            aria-expanded={wire}
            onClick={() => setWire(!wire)}
          >
            {wire ? "Hide what came over the wire" : "Show what came over the wire"}
          </button>
        )}
        {!check.needs_person && <LeftOpen key={`${cell.device} ${cell.check}`} cell={cell} />}
      </div>
      {wire && <Wire device={cell.device} check={cell.check} />}
    </section>
  );
}

/** The check of the fault finding that a reading stands for. */
const FAULT_CHECKS: Record<string, string> = {
  answers: "answers",
  web: "page",
  "web-tls": "page",
  login: "login",
  stream: "stream",
  clock: "clock",
  "date-order": "clock",
  linked: "linked",
  records: "linked",
  registered: "linked",
  relay: "relay",
  "right-device": "neighbour",
};

/** Open a case with this reading as its complaint. */
function FindFault({ device, check }: { device: string; check: string }) {
  const opening = useOpening();
  const navigate = useNavigate();
  const site = useSiteKey();
  const told = {
    check: FAULT_CHECKS[check] ?? "answers",
    at: device,
    result: check === "answers" ? "silent" : "fail",
  };
  return (
    <>
      <button
        type="button"
        className="btn"
        disabled={opening.isPending}
        onClick={() =>
          opening.mutate(
            { seen: [told] },
            { onSuccess: (found) => navigate(`/sites/${site}/faults/${found.number}`) },
          )
        }
      >
        Find the fault
      </button>
      {opening.error && <Trouble error={opening.error} />}
    </>
  );
}

function Wire({ device, check }: { device: string; check: string }) {
  const site = useSiteKey();
  const found = useQuery({
    queryKey: ["site", site, "evidence", device, check],
    queryFn: () =>
      ask(
        client.GET("/api/sites/{key}/devices/{device}/checks/{check}/evidence", {
          params: { path: { key: site, device, check } },
        }),
      ),
  });
  if (found.error) return <Trouble error={found.error} />;
  if (!found.data) return <p className="text-small text-ink-2">Looking it up.</p>;
  if (found.data.length === 0)
    return <p className="text-small text-ink-2">Nothing was recorded: the port sent no text.</p>;
  return found.data.map((item) => (
    <figure key={item.source} className="min-w-0">
      <figcaption className="text-small text-ink-2">
        {item.source},{" "}
        {new Date(item.at).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "medium" })}
      </figcaption>
      <pre
        tabIndex={0}
        className="mt-1 max-h-80 overflow-auto border border-hair bg-paper p-3 font-mono text-small whitespace-pre-wrap [overflow-wrap:anywhere]"
      >
        {item.text}
      </pre>
    </figure>
  ));
}

function OtherCertificate({ device }: { device: string }) {
  const accept = useChange((key, _: null) =>
    ask(client.PUT("/api/sites/{key}/devices/{device}/certificate", { params: { path: { key, device } } })),
  );
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-2 text-small">
      <p className="min-w-0 flex-1 basis-72">
        Either the device made a new certificate, after a reset or new firmware, or somebody stands between.
        Compare the fingerprint on the device itself before you accept it.
      </p>
      <button type="button" className="btn" disabled={accept.isPending} onClick={() => accept.mutate(null)}>
        Accept this certificate
      </button>
      {accept.error && <Trouble error={accept.error} />}
    </div>
  );
}

import { useState } from "react";
import type { Schemas } from "../../api/client";

type Fault = Schemas["PracticeFault"];

/** Faults for the pretend site to play at the next measuring. */
export function Practice({
  sheet,
  faults,
  setFaults,
}: {
  sheet: Schemas["ProofSheet"];
  faults: Fault[];
  setFaults: (faults: Fault[]) => void;
}) {
  const [device, setDevice] = useState(sheet.columns[0]?.key ?? "");
  const [kind, setKind] = useState(sheet.fault_kinds[0]?.kind ?? "");
  const name = (key: string | null | undefined) =>
    sheet.columns.find((item) => item.key === key)?.name ?? key;
  const words = (kind: string) => sheet.fault_kinds.find((item) => item.kind === kind)?.words ?? kind;
  return (
    <section className="mt-6 border-t border-hair pt-3" aria-label="Practice">
      <h2 className="font-semibold">Practice: let something be wrong at the pretend site</h2>
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <label className="grid gap-1 text-small text-ink-2">
          Device
          <select className="box text-ink" value={device} onChange={(event) => setDevice(event.target.value)}>
            {sheet.columns.map((column) => (
              <option key={column.key} value={column.key}>
                {column.name}
              </option>
            ))}
          </select>
        </label>
        <label className="grid gap-1 text-small text-ink-2">
          What is wrong
          <select className="box text-ink" value={kind} onChange={(event) => setKind(event.target.value)}>
            {sheet.fault_kinds.map((item) => (
              <option key={item.kind} value={item.kind}>
                {item.words}
              </option>
            ))}
          </select>
        </label>
        <button type="button" className="btn" onClick={() => setFaults([...faults, { kind, device }])}>
          Add this fault
        </button>
      </div>
      {faults.length > 0 && (
        <ul className="mt-3 max-w-2xl" aria-label="Faults at the next measuring">
          {faults.map((fault, at) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: two equal faults are two lines
            <li key={at} className="flex items-center justify-between gap-3 border-b border-hair">
              <span>
                {name(fault.device)} {words(fault.kind)}
              </span>
              <button
                type="button"
                className="min-h-11 px-2 text-small font-semibold underline"
                onClick={() => setFaults(faults.filter((_, index) => index !== at))}
              >
                Take it out<span className="sr-only"> ({name(fault.device)})</span>
              </button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

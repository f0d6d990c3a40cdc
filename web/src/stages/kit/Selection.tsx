import { useState } from "react";
import { DeviceLink } from "../../parts/DeviceLink";
import { Mark } from "../../parts/Mark";
import { COLUMNS, changeOf, type Device, type Field, type Sheet } from "./columns";
import type { Edit } from "./useEdits";

const SHARED = COLUMNS.filter((column) => column.choices);
const PATTERN = "{place} {kind} {n}";
const TOKENS = "A pattern may hold {place} {kind} {n} {nn} {key} {model}";

/** What can be done with the chosen rows: one value for all, names by a pattern, removing. */
export function Selection({
  sheet,
  picked,
  apply,
  nameBy,
  remove,
  clear,
  show,
}: {
  sheet: Sheet;
  picked: Device[];
  apply: (edits: Edit[], words: string) => void;
  nameBy: (pattern: string, keys: string[], words: string) => void;
  remove: (keys: string[], words: string) => void;
  clear: () => void;
  show: (what: Record<string, string>) => void;
}) {
  const [pattern, setPattern] = useState(PATTERN);
  const chosen = picked.map((device) => device.key).join(" ");
  const [sureOf, setSureOf] = useState("");
  const sure = chosen === sureOf;
  const said = picked.length === 1 ? (picked[0]?.name ?? picked[0]?.key) : `${picked.length} devices`;
  const only = picked.length === 1 ? picked[0] : undefined;
  return (
    <section aria-label="Chosen rows" className="min-w-0 flex-1 bg-kelp-wash px-3 py-1.5">
      <div className="flex flex-wrap items-center gap-x-2 gap-y-2">
        <p className="flex min-h-11 items-center gap-2 font-semibold">
          <Mark name="set" /> <span className="max-w-60 truncate">{said}</span>
        </p>
        {SHARED.map((column) => (
          <select
            key={column.field}
            aria-label={`${column.head} of all chosen`}
            className="box w-28 px-2 text-list"
            value="…"
            onChange={(event) => {
              const change = changeOf(column.field as Field, event.target.value);
              apply(
                picked.map((device) => ({ device: device.key, change })),
                `${column.head} of ${said}`,
              );
            }}
          >
            <option value="…" disabled>
              {column.head} …
            </option>
            {column.choices?.(sheet).map((choice) => (
              <option key={choice.value} value={choice.value}>
                {choice.word}
              </option>
            ))}
          </select>
        ))}
        <form
          className="flex items-end gap-2"
          aria-label="Names by a pattern"
          onSubmit={(event) => {
            event.preventDefault();
            nameBy(
              pattern,
              picked.map((device) => device.key),
              `names of ${said}`,
            );
          }}
        >
          <input
            className="box w-44 px-2 font-mono text-small"
            value={pattern}
            aria-label="Pattern"
            title={TOKENS}
            autoComplete="off"
            spellCheck={false}
            onChange={(event) => setPattern(event.target.value)}
          />
          <button type="submit" className="btn">
            Name them
          </button>
        </form>
        {only && (
          <>
            <span className="btn">
              <DeviceLink device={only.key}>Its page</DeviceLink>
            </span>
            <button type="button" className="btn" onClick={() => show({ model: only.model })}>
              Its model
            </button>
            <button type="button" className="btn" onClick={() => show({ open: "labels", device: only.key })}>
              Read its label
            </button>
          </>
        )}
        <button
          type="button"
          className="btn"
          onClick={() => {
            if (!sure) return setSureOf(chosen);
            remove(
              picked.map((device) => device.key),
              `removing ${said}`,
            );
            clear();
          }}
        >
          {sure ? "Yes, remove with links and readings" : "Remove…"}
        </button>
        <button type="button" className="btn" onClick={clear}>
          Let go
        </button>
      </div>
      {only && only.used_steps.length > 0 && (
        <ul className="pt-1 text-small">
          {only.used_steps.map((step) => (
            <li key={step} className="flex items-start gap-2">
              <Mark name="off" word="bought used" /> {step}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

import { useId, useState } from "react";
import { useSiteKey } from "../../api/site";
import { Caution } from "../../parts/Caution";
import { dayOf } from "../../parts/dates";
import { Mark, type MarkName } from "../../parts/Mark";
import type { Item, Said } from "./useCard";

const MARKS: Record<Item["state"], MarkName> = {
  done: "set",
  open: "planned",
  waits: "planned",
  "not-needed": "left",
};
const WORDS: Record<Item["state"], string> = {
  done: "done",
  open: "open",
  waits: "waits",
  "not-needed": "not needed",
};

const IN_A_ROW = 5; // more lines below an item would bury the items that follow

/** One item of a card: what is done and why, with what its tick has to show. */
export function CardItem({ item, tick, busy }: { item: Item; tick: (said: Said) => void; busy: boolean }) {
  const settled = item.state === "done" || item.state === "not-needed";
  return (
    <li className="grid grid-cols-[1.25rem_minmax(0,1fr)] gap-x-3 border-t border-hair py-2.5">
      <span className="pt-1">
        <Mark name={MARKS[item.state]} word={WORDS[item.state]} />
      </span>
      <div className="min-w-0">
        <p className="font-semibold [overflow-wrap:anywhere]">{item.text}</p>
        <p className="text-small text-ink-2">
          {item.reason}
          {item.who !== "anyone" && ` Ticked by ${item.who}.`}
          {item.state === "waits" && ` First: ${item.waits_for?.toLowerCase()}.`}
        </p>
        {item.listed.length > IN_A_ROW && <p className="text-small">{item.listed.join(" · ")}</p>}
        {item.listed.length > 0 && item.listed.length <= IN_A_ROW && (
          <ul className="list-inside list-disc text-small">
            {item.listed.map((line) => (
              <li key={line} className="[overflow-wrap:anywhere]">
                {line}
              </li>
            ))}
          </ul>
        )}
        {item.caution && !settled && (
          <div className="py-1.5">
            <Caution>{item.caution}</Caution>
          </div>
        )}
        {item.said && (
          <p className="flex items-start gap-2 pt-1 text-small">
            <Mark name={item.right ? "set" : "broken"} word={item.right ? "right" : "wrong"} /> {item.said}
          </p>
        )}
        {settled || (item.note && item.by) ? (
          <Settled item={item} tick={tick} busy={busy} />
        ) : (
          item.state === "open" && <Ticking item={item} tick={tick} busy={busy} />
        )}
      </div>
    </li>
  );
}

function Settled({ item, tick, busy }: { item: Item; tick: (said: Said) => void; busy: boolean }) {
  const site = useSiteKey();
  const value = item.value === null ? "" : `${item.value}${item.unit ? ` ${item.unit}` : ""}`;
  const shown = [item.of === null ? value : `${value} of ${item.of}`, item.note].filter(Boolean).join(", ");
  const at = item.at ? dayOf(item.at) : "";
  const word =
    item.state === "done" ? "Done" : item.state === "not-needed" ? "Not needed" : "Left to be done";
  return (
    <p className="flex flex-wrap items-center gap-x-4 text-small">
      <span className="[overflow-wrap:anywhere]">
        <b className="font-semibold">{word}</b>
        {shown && `: ${shown}`} · {[item.by, at].filter(Boolean).join(", ")}
      </span>
      {item.photo && (
        <a href={`/api/sites/${site}/log/photos/${item.photo}`} target="_blank" rel="noreferrer">
          Photograph
        </a>
      )}
      <button
        type="button"
        className="min-h-11 underline underline-offset-4"
        disabled={busy}
        aria-label={`Open again: ${item.text}`}
        onClick={() => tick({ item: item.key, body: { state: "open", note: "", photo: "" } })}
      >
        Open again
      </button>
    </p>
  );
}

const number = (typed: string) =>
  typed.trim() === "" || Number.isNaN(Number(typed.replace(",", ".")))
    ? typed.trim() || null
    : Number(typed.replace(",", "."));

function Ticking({ item, tick, busy }: { item: Item; tick: (said: Said) => void; busy: boolean }) {
  const id = useId();
  const [value, setValue] = useState("");
  const [of, setOf] = useState("");
  const [note, setNote] = useState("");
  const [file, setFile] = useState<File>();
  const [why, setWhy] = useState<"done" | "not-needed" | "open">();
  const kind = item.kind;
  const numeric = (kind === "value" && !item.in_words) || kind === "count";
  const say = (state: "done" | "not-needed" | "open") =>
    tick({
      item: item.key,
      body: {
        state,
        note,
        value:
          kind === "tick" || kind === "name" || state !== "done" ? null : numeric ? number(value) : value,
        of: kind === "count" && state === "done" ? (number(of) as number | null) : null,
        photo: "",
      },
      ...(file && state === "done" ? { file } : {}),
    });
  const ready =
    kind === "tick" ||
    (kind === "name" && note.trim() !== "") ||
    (kind === "value" && value.trim() !== "") ||
    (kind === "count" && value.trim() !== "" && of.trim() !== "") ||
    (kind === "choice" && value !== "") ||
    (kind === "photograph" && file !== undefined);
  const chosen = item.options.find((option) => option.word === value);
  return (
    <form
      className="flex flex-wrap items-end gap-x-3 gap-y-2 pt-1.5"
      onSubmit={(event) => {
        event.preventDefault();
        say(why ?? "done");
      }}
    >
      {!why && kind === "name" && (
        <Field label={item.asks ?? "who did it"} value={note} set={setNote} wide id={`${id}n`} />
      )}
      {!why && kind === "value" && (
        <Field
          label={`${item.asks ?? "what was found"}${item.unit ? `, ${item.unit}` : ""}`}
          value={value}
          set={setValue}
          wide={item.in_words}
          numeric={numeric}
          id={`${id}v`}
        />
      )}
      {!why && kind === "count" && (
        <>
          <Field label={item.asks ?? "in"} value={value} set={setValue} numeric id={`${id}v`} />
          <Field label="of how many" value={of} set={setOf} numeric id={`${id}o`} />
        </>
      )}
      {!why && kind === "choice" && (
        <label className="grid min-w-0 gap-0.5 text-cell">
          what was chosen
          <select
            className="box min-w-0 max-w-full"
            value={value}
            onChange={(event) => setValue(event.target.value)}
          >
            <option value="">choose</option>
            {item.options.map((option, at) => (
              <option key={option.word} value={option.word}>
                {option.word}
                {at === 0 ? " (usual)" : ""}
              </option>
            ))}
          </select>
        </label>
      )}
      {!why && kind === "photograph" && (
        <label className="grid min-w-0 gap-0.5 text-cell">
          photograph
          <input
            type="file"
            accept="image/*"
            capture="environment"
            className="box w-full min-w-0 py-2 text-small"
            onChange={(event) => setFile(event.target.files?.[0])}
          />
        </label>
      )}
      {why && (
        <Field
          label={
            why === "not-needed"
              ? "why it is not needed"
              : why === "open"
                ? "what is left"
                : "why it stays so"
          }
          value={note}
          set={setNote}
          wide
          id={`${id}w`}
        />
      )}
      <button
        type="submit"
        className="btn"
        disabled={busy || (why ? !note.trim() : !ready)}
        aria-label={`${why === "not-needed" ? "Not needed" : why === "open" ? "Left to be done" : "Done"}: ${item.text}`}
      >
        {why === "not-needed" ? "Not needed" : why === "open" ? "Leave it" : "Done"}
      </button>
      <span className="flex gap-4 text-small">
        {why ? (
          <Quiet label="Back" of={item.text} run={() => setWhy(undefined)} />
        ) : (
          <>
            {kind !== "name" && kind !== "tick" && kind !== "choice" && ready && (
              <Quiet label="With a word" of={item.text} run={() => setWhy("done")} />
            )}
            <Quiet label="Not needed" of={item.text} run={() => setWhy("not-needed")} />
            <Quiet label="Later" of={item.text} run={() => setWhy("open")} />
          </>
        )}
      </span>
      {chosen?.why && <p className="basis-full text-small text-ink-2">{chosen.why}.</p>}
    </form>
  );
}

function Field({
  label,
  value,
  set,
  wide = false,
  numeric = false,
  id,
}: {
  label: string;
  value: string;
  set: (value: string) => void;
  wide?: boolean;
  numeric?: boolean;
  id: string;
}) {
  return (
    <label className={`grid min-w-0 gap-0.5 text-cell ${wide ? "flex-1 basis-52" : ""}`} htmlFor={id}>
      {label}
      <input
        id={id}
        className={`box min-w-0 ${wide ? "w-full" : "w-32"}`}
        inputMode={numeric ? "decimal" : undefined}
        maxLength={numeric ? 12 : 300}
        value={value}
        onChange={(event) => set(event.target.value)}
      />
    </label>
  );
}

function Quiet({ label, of, run }: { label: string; of: string; run: () => void }) {
  return (
    <button
      type="button"
      className="min-h-11 underline underline-offset-4"
      aria-label={`${label}: ${of}`}
      onClick={run}
    >
      {label}
    </button>
  );
}

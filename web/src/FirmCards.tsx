import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { showAnswer } from "./api/answered";
import { asBytes, ask, client, type Refused, type Schemas } from "./api/client";
import { Loading, Trouble } from "./parts/Feedback";
import { useFilePicker } from "./parts/FilePicker";
import { hasAll, wordsOf } from "./parts/filter";
import { LineField } from "./parts/LineField";
import { Only, useRight } from "./parts/Rights";
import { SearchBox } from "./parts/SearchBox";
import { slug } from "./parts/slug";
import { TopHead } from "./parts/TopHead";

type Sheet = Schemas["FirmSheet"];
type Own = Record<string, unknown>;
type File_ = { items: Own[]; off: string[] };

/** The items of the job cards: which are used, and the firm's own; an open file that can be shared. */
export function FirmCards() {
  const queries = useQueryClient();
  const [only, setOnly] = useState("");
  const leading = useRight("leading");
  const sheet = useQuery({ queryKey: ["firm-cards"], queryFn: () => ask(client.GET("/api/cards")) });
  const show = (fresh: Sheet) => showAnswer(queries, ["firm-cards"], fresh);
  const keep = useMutation<Sheet, Refused, File_>({
    mutationFn: (file) =>
      ask(client.PUT("/api/cards", { body: { edition: sheet.data?.edition ?? 0, ...file } })),
    onSuccess: show,
  });
  const bring = useMutation<Sheet, Refused, File>({
    mutationFn: (file) => ask(client.POST("/api/cards", asBytes(file))),
    onSuccess: show,
  });
  const picker = useFilePicker("File of cards", bring.mutate);
  useEffect(() => {
    document.title = "Job cards · Tutelar";
  }, []);
  const data = sheet.data;
  const file: File_ = {
    items: (data?.file.items as Own[]) ?? [],
    off: (data?.file.off as string[]) ?? [],
  };
  const words = wordsOf(only);
  const found = data?.items.filter((item) =>
    hasAll(words, `${item.text} ${item.reason} ${item.phase} ${item.key}`),
  );
  return (
    <main className="relative mx-auto max-w-6xl px-4 py-6">
      <TopHead title="Job cards">
        <a className="btn text-ink no-underline" href="/api/cards/file" download>
          Export yours (JSON)
        </a>
        {leading && (
          <button type="button" className="btn" onClick={picker.pick}>
            Import yours
          </button>
        )}
        {picker.field}
      </TopHead>
      {keep.error && <Trouble error={keep.error} />}
      {bring.error && <Trouble error={bring.error} />}
      {sheet.isPending && <Loading what="the cards" />}
      {sheet.error && <Trouble error={sheet.error} retry={() => sheet.refetch()} />}
      {data && found && (
        <div className="mt-4 grid gap-x-10 gap-y-6 lg:grid-cols-[minmax(0,1fr)_22rem]">
          <div className="min-w-0">
            <SearchBox label="Show only" value={only} search={setOnly} />
            {data.phases.map((phase) => {
              const rows = found.filter((item) => item.phase === phase.word);
              return rows.length === 0 ? null : (
                <details key={phase.word} className="border-t border-hair" open={words.length > 0}>
                  <summary className="min-h-11 cursor-pointer py-2.5 font-semibold">
                    {phase.says}{" "}
                    <span className="font-normal text-ink-2">
                      {rows.filter((item) => item.used).length} of {rows.length} used
                    </span>
                  </summary>
                  <ul>
                    {rows.map((item) => (
                      <li key={item.key} className="flex items-start gap-3 border-t border-hair py-1.5">
                        <div className="min-w-0 flex-1">
                          <p className={item.used ? "" : "text-ink-2 line-through"}>{item.text}</p>
                          <p className="text-small text-ink-2">
                            {item.reason} {item.own && <b className="font-semibold text-ink">Yours.</b>}
                            {item.when.length > 0 &&
                              ` Where: ${item.when.join(" and ").replaceAll("|", " or ").replaceAll("!", "not ")}.`}
                          </p>
                        </div>
                        <button
                          type="button"
                          className="min-h-11 text-small whitespace-nowrap underline underline-offset-4"
                          disabled={keep.isPending || !leading}
                          aria-label={`${item.own ? "Remove" : item.used ? "Do not use" : "Use again"}: ${item.text}`}
                          onClick={() =>
                            keep.mutate(
                              item.own
                                ? { ...file, items: file.items.filter((one) => one.key !== item.key) }
                                : {
                                    ...file,
                                    off: item.used
                                      ? [...file.off, item.key]
                                      : file.off.filter((one) => one !== item.key),
                                  },
                            )
                          }
                        >
                          {item.own ? "Remove" : item.used ? "Do not use" : "Use again"}
                        </button>
                      </li>
                    ))}
                  </ul>
                </details>
              );
            })}
            {found.length === 0 && <p className="py-6 text-ink-2">No item fits “{only}”.</p>}
          </div>
          <Only right="leading" to="change the items">
            <NewItem
              key={data.edition}
              sheet={data}
              busy={keep.isPending}
              add={(item) => keep.mutate({ ...file, items: [...file.items, item] })}
            />
          </Only>
        </div>
      )}
    </main>
  );
}

const KINDS = [
  ["tick", "a tick"],
  ["name", "a name"],
  ["value", "a value"],
  ["count", "so many of so many"],
  ["photograph", "a photograph"],
] as const;

function NewItem({ sheet, add, busy }: { sheet: Sheet; add: (item: Own) => void; busy: boolean }) {
  const [text, setText] = useState("");
  const [reason, setReason] = useState("");
  const [phase, setPhase] = useState(sheet.phases[0]?.word ?? "mounting");
  const [when, setWhen] = useState("");
  const [kind, setKind] = useState("tick");
  const [asks, setAsks] = useState("");
  const [caution, setCaution] = useState("");
  const [ofSite, setOfSite] = useState(false);
  return (
    <form
      aria-labelledby="new-item"
      className="slip grid content-start gap-2 self-start"
      onSubmit={(event) => {
        event.preventDefault();
        add({
          key: slug(text).slice(0, 60),
          of: ofSite ? "site" : "device",
          phase,
          text: text.trim(),
          reason: reason.trim(),
          when: when.split(/\s+/).filter(Boolean),
          evidence: { kind, ...(asks.trim() ? { asks: asks.trim() } : {}) },
          ...(caution.trim() ? { caution: caution.trim() } : {}),
        });
      }}
    >
      <h2 id="new-item" className="text-lead font-semibold">
        An item of your own
      </h2>
      <LineField label="what is done" value={text} set={setText} most={300} />
      <LineField label="why" value={reason} set={setReason} most={300} />
      <label className="grid gap-0.5 text-cell">
        part of the work
        <select className="box" value={phase} onChange={(event) => setPhase(event.target.value)}>
          {sheet.phases.map((item) => (
            <option key={item.word} value={item.word}>
              {item.says}
            </option>
          ))}
        </select>
      </label>
      <label className="flex min-h-11 items-center gap-2 text-small">
        <input type="checkbox" className="size-5" checked={ofSite} onChange={() => setOfSite(!ofSite)} />
        once for the whole site
      </label>
      <LineField
        label="where: words with spaces between; a|b is one of them, !a not"
        value={when}
        set={setWhen}
        most={300}
      />
      <details className="text-small">
        <summary className="min-h-11 cursor-pointer py-2">The words that may be used</summary>
        <dl className="grid max-h-56 grid-cols-[auto_1fr] gap-x-3 overflow-auto">
          {sheet.words.map((item) => (
            <div key={item.word} className="contents">
              <dt className="font-mono">{item.word}</dt>
              <dd className="text-ink-2">{item.says}</dd>
            </div>
          ))}
        </dl>
      </details>
      <label className="grid gap-0.5 text-cell">
        its tick shows
        <select className="box" value={kind} onChange={(event) => setKind(event.target.value)}>
          {KINDS.map(([value, word]) => (
            <option key={value} value={value}>
              {word}
            </option>
          ))}
        </select>
      </label>
      {kind !== "tick" && kind !== "photograph" && (
        <LineField label="what is asked for" value={asks} set={setAsks} most={300} />
      )}
      <LineField label="caution (may stay empty)" value={caution} set={setCaution} most={300} />
      <button
        type="submit"
        className="btn justify-self-start"
        disabled={busy || !slug(text) || !reason.trim()}
      >
        Add it
      </button>
    </form>
  );
}

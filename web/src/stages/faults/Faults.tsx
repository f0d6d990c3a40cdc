import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { useSheet, useSiteKey } from "../../api/site";
import { Choice } from "../../parts/Choice";
import { Trouble } from "../../parts/Feedback";
import { State } from "../../parts/Mark";
import { Page } from "../../parts/Page";
import { Asking } from "./Asking";
import { useBeginning } from "./Lesson";
import { useOpening } from "./useCase";

type Sheet = Schemas["FaultsSheet"];
export const STATES = {
  open: { mark: "turn", word: "open" },
  found: { mark: "set", word: "cause found" },
  mended: { mark: "set", word: "put right" },
  closed: { mark: "proven", word: "closed" },
} as const;
export const LEVELS = { easy: "Easy", hard: "Hard", double: "Two faults" } as const;
const KINDS: Record<string, string> = { ...LEVELS, written: "Written case" };

/** What is offline here, the cases there were, and drills. */
export function Faults() {
  const sheet = useSheet("faults");
  return (
    <Page title="Fault finding" fetched={sheet}>
      {(data) => (
        <div className="grid gap-x-10 gap-y-6 pt-2 xl:grid-cols-[minmax(0,1fr)_24rem]">
          <div className="min-w-0">
            <Complaint sheet={data} />
            <CaseList cases={data.cases} />
          </div>
          <div className="grid content-start gap-8">
            <Asking devices={data.devices} ends={data.ends} />
            <Drills sheet={data} />
          </div>
        </div>
      )}
    </Page>
  );
}

type Row = { at: string; check: string; result: string };

/** What is not as it should be: one line a device. */
function Complaint({ sheet }: { sheet: Sheet }) {
  const [search] = useSearchParams();
  const first = sheet.complaints[0];
  const fresh: Row = { at: search.get("device") ?? "", check: first?.check ?? "", result: "silent" };
  const [rows, setRows] = useState<Row[]>([fresh]);
  const opening = useOpening();
  const navigate = useNavigate();
  const site = useSiteKey();
  const change = (number: number, part: Partial<Row>) =>
    setRows(rows.map((row, at) => (at === number ? { ...row, ...part } : row)));
  const ready = rows.every((row) => row.at);
  return (
    <form
      aria-labelledby="offline"
      className="border border-hair border-t-[3px] border-t-ink bg-sheet p-5"
      onSubmit={(event) => {
        event.preventDefault();
        opening.mutate(
          { seen: rows },
          { onSuccess: (found) => navigate(`/sites/${site}/faults/${found.number}`) },
        );
      }}
    >
      <h2 id="offline" className="pb-3 text-lead font-semibold">
        What is offline?
      </h2>
      {sheet.devices.length === 0 ? (
        <p className="text-ink-2">The kit has no device with a network yet.</p>
      ) : (
        <>
          <ul className="grid gap-3">
            {rows.map((row, number) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: lines have nothing else that stays
              <li key={number} className="flex flex-wrap items-end gap-3">
                <ComplaintRow sheet={sheet} row={row} change={(part) => change(number, part)} />
                {rows.length > 1 && (
                  <button
                    type="button"
                    className="min-h-11 text-small underline"
                    onClick={() => setRows(rows.filter((_, at) => at !== number))}
                  >
                    Take this line out
                  </button>
                )}
              </li>
            ))}
          </ul>
          <div className="flex flex-wrap items-center gap-x-5 gap-y-2 pt-4">
            <button type="submit" className="btn btn-main" disabled={!ready || opening.isPending}>
              Find the fault
            </button>
            <button
              type="button"
              className="min-h-11 text-small font-semibold underline"
              onClick={() => setRows([...rows, { ...(rows.at(-1) ?? fresh), at: "" }])}
            >
              Another device is offline too
            </button>
          </div>
        </>
      )}
      {opening.error && <Trouble error={opening.error} />}
    </form>
  );
}

function ComplaintRow({
  sheet,
  row,
  change,
}: {
  sheet: Sheet;
  row: Row;
  change: (part: Partial<Row>) => void;
}) {
  const check = sheet.complaints.find((item) => item.check === row.check);
  const bad = (check?.answers ?? []).filter((item) => item.result !== "pass");
  return (
    <>
      <Choice
        label="device"
        options={sheet.devices}
        value={row.at}
        set={(at) => change({ at })}
        none="choose …"
        look="min-w-0 max-md:w-full"
        box="md:max-w-72"
      />
      <Choice
        label="what"
        options={sheet.complaints.map((item) => ({ value: item.check, word: item.short }))}
        value={row.check}
        set={(check) => {
          const next = sheet.complaints.find((item) => item.check === check);
          const result = next?.answers.find((item) => item.result !== "pass")?.result ?? "silent";
          change({ check, result });
        }}
        box="max-w-64"
      />
      <Choice
        label="seen"
        options={bad.map((item) => ({ value: item.result, word: item.word }))}
        value={row.result}
        set={(result) => change({ result })}
        box="max-w-64"
      />
    </>
  );
}

const FIRST = 20;

function CaseList({ cases }: { cases: Sheet["cases"] }) {
  const [whole, setWhole] = useState(false);
  const shown = whole ? cases : cases.slice(0, FIRST);
  return (
    <section aria-labelledby="cases" className="pt-6">
      <h2 id="cases" className="font-semibold text-ink-2">
        Cases
      </h2>
      {cases.length === 0 && (
        <p className="border-t border-hair py-3 text-ink-2">Nothing was looked for on this site yet.</p>
      )}
      <ul>
        {shown.map((item) => (
          <li
            key={item.number}
            className="grid grid-cols-[3rem_minmax(0,1fr)_auto] items-center gap-x-3 border-t border-hair py-2"
          >
            <span className="font-mono text-small">{item.number}</span>
            <span className="min-w-0">
              <Link className="font-semibold" to={String(item.number)}>
                {item.drill ? `Drill, ${(KINDS[item.drill] ?? item.drill).toLowerCase()}: ` : ""}
                {item.title}
              </Link>
              <span className="block text-small text-ink-2">
                {item.says && `${item.says}. `}
                {new Date(item.opened_at).toLocaleString("en-GB", {
                  dateStyle: "medium",
                  timeStyle: "short",
                })}
                , {item.opened_by}, {item.minutes} min of checks
              </span>
            </span>
            {item.right === null ? (
              <State name={STATES[item.state as keyof typeof STATES].mark}>
                {STATES[item.state as keyof typeof STATES].word}
              </State>
            ) : (
              <State name={item.right ? "set" : "broken"}>{item.right ? "named right" : "not it"}</State>
            )}
          </li>
        ))}
      </ul>
      {shown.length < cases.length && (
        <button type="button" className="min-h-11 underline" onClick={() => setWhole(true)}>
          Show all {cases.length}
        </button>
      )}
    </section>
  );
}

function Drills({ sheet }: { sheet: Sheet }) {
  const opening = useOpening();
  const navigate = useNavigate();
  const site = useSiteKey();
  const [written, setWritten] = useState(sheet.written[0]?.value ?? "");
  const open = (body: Schemas["NewCase"]) =>
    opening.mutate(body, { onSuccess: (found) => navigate(`/sites/${site}/faults/${found.number}`) });
  return (
    <section aria-labelledby="drills" className="content-start border-t-2 border-ink pt-3">
      <h2 id="drills" className="text-lead font-semibold">
        Drill
      </h2>
      {sheet.practice ? (
        <>
          <p className="pb-3 text-small text-ink-2">
            A fault is hidden on this practice site. Every check costs its minutes; name the cause in as few
            as you can.
          </p>
          <div className="flex flex-wrap gap-3">
            {(Object.keys(LEVELS) as (keyof typeof LEVELS)[]).map((level) => (
              <button
                key={level}
                type="button"
                className="btn"
                disabled={opening.isPending || sheet.devices.length === 0}
                onClick={() => open({ seen: [], drill: level })}
              >
                {LEVELS[level]}
              </button>
            ))}
          </div>
          <form
            className="flex flex-wrap items-end gap-3 pt-4"
            onSubmit={(event) => {
              event.preventDefault();
              open({ seen: [], written });
            }}
          >
            <Choice
              label="written case"
              options={sheet.written}
              value={written}
              set={setWritten}
              look="min-w-0 flex-1 basis-56"
              box="w-full"
            />
            <button type="submit" className="btn" disabled={opening.isPending || sheet.devices.length === 0}>
              Play it
            </button>
          </form>
          <Lessons empty={sheet.devices.length === 0} />
          {sheet.people.length > 0 && <People people={sheet.people} />}
          {opening.error && <Trouble error={opening.error} />}
        </>
      ) : (
        <p className="text-small text-ink-2">
          Drills are made on a practice site. Copy this site as one on the <Link to="../proof">proof</Link>{" "}
          page.
        </p>
      )}
    </section>
  );
}

/** Lessons on the values of this site. */
function Lessons({ empty }: { empty: boolean }) {
  const begin = useBeginning();
  const lessons = useSheet("lessons").data?.filter((lesson) => lesson.done) ?? [];
  return (
    <div className="pt-4">
      <p className="pb-2 text-small text-ink-2">
        On the settings of this site: why each is as it is, or a set-up from the box with four mistakes.
      </p>
      <div className="flex flex-wrap gap-3">
        <button
          type="button"
          className="btn"
          disabled={begin.isPending || empty}
          onClick={() => begin.mutate("questions")}
        >
          What does this do?
        </button>
        <button
          type="button"
          className="btn"
          disabled={begin.isPending || empty}
          onClick={() => begin.mutate("mistakes")}
        >
          Find the mistakes
        </button>
      </div>
      {begin.error && <Trouble error={begin.error} />}
      {lessons.length > 0 && (
        <ul aria-label="Lessons so far" className="pt-2 text-small">
          {lessons.slice(0, 6).map((lesson) => (
            <li key={lesson.number} className="flex gap-3 border-t border-hair">
              <Link to={`lessons/${lesson.number}`} className="inline-flex min-h-11 items-center">
                {lesson.kind === "questions" ? "Settings" : "Mistakes"}, {lesson.by}
              </Link>
              <span className="ml-auto self-center font-mono">
                {lesson.right} of {lesson.of}
              </span>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

/** Who made how many drills, and in how many minutes. */
function People({ people }: { people: Sheet["people"] }) {
  return (
    <table className="mt-4 w-full text-small">
      <caption className="pb-1 text-left font-semibold text-ink-2">Drills so far</caption>
      <thead>
        <tr className="border-b border-hair text-left">
          <th className="py-1 font-medium">who</th>
          <th className="py-1 text-right font-medium">named right</th>
          <th className="py-1 text-right font-medium">minutes</th>
          <th className="py-1 text-right font-medium">best way</th>
        </tr>
      </thead>
      <tbody>
        {people.map((item) => (
          <tr key={item.name} className="border-b border-hair">
            <td className="py-1.5">{item.name}</td>
            <td className="py-1.5 text-right font-mono">
              {item.right} of {item.drills}
            </td>
            <td className="py-1.5 text-right font-mono">{item.minutes}</td>
            <td className="py-1.5 text-right font-mono">{item.best}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

import { useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSheet, useSiteKey } from "../../api/site";
import { Choice } from "../../parts/Choice";
import { dayOf } from "../../parts/dates";
import { Trouble } from "../../parts/Feedback";
import { LineField } from "../../parts/LineField";
import { Mark, type MarkName } from "../../parts/Mark";
import { NextBar } from "../../parts/NextBar";
import { Page } from "../../parts/Page";

type Sheet = Schemas["AskedSheet"];
type Row = Sheet["questions"][number];
type Words = Schemas["AskedWords"];
type Act = { do: "keep"; question: string; body: Words } | { do: "drop"; question: string };

const MARKS: Record<string, MarkName> = {
  answered: "set",
  overdue: "off",
  asked: "busy",
  "not asked": "planned",
};

function useActs() {
  return useChange<Act, Sheet>((key, act) => {
    const path = { key, question: act.question };
    if (act.do === "drop")
      return ask(client.DELETE("/api/sites/{key}/asked/{question}", { params: { path } }));
    if (!act.question)
      return ask(client.POST("/api/sites/{key}/asked", { params: { path: { key } }, body: act.body }));
    return ask(client.PUT("/api/sites/{key}/asked/{question}", { params: { path }, body: act.body }));
  }, "asked");
}

/** Questions to others: who was asked what, until when, and what they answered. */
export function Asked() {
  const key = useSiteKey();
  const sheet = useSheet("asked");
  const acts = useActs();
  const data = sheet.data;
  const next = data?.questions.find((row) => row.key === data.next);
  const word = (of: string) => data?.whom.find((item) => item.value === of)?.word ?? of;
  return (
    <>
      <Page
        title="Questions to others"
        fetched={sheet}
        aside={
          (data?.waiting ?? 0) > 0 && (
            <a className="ml-auto text-small" href={`/api/sites/${key}/files/letters.pdf`} download>
              As letters, a page each (PDF)
            </a>
          )
        }
      >
        {(found) => (
          <div className="grid gap-x-10 gap-y-6 pt-2 xl:grid-cols-[minmax(0,1fr)_24rem]">
            <div className="min-w-0">
              {acts.error && <Trouble error={acts.error} />}
              {found.questions.length === 0 && (
                <p className="py-3 text-ink-2">
                  Nobody was asked anything yet. Take up a usual question at the side, or write your own.
                </p>
              )}
              {found.whom
                .filter((whom) => found.questions.some((row) => row.of === whom.value))
                .map((whom) => (
                  <section key={whom.value} aria-label={whom.word} className="pb-4">
                    <h2 className="font-semibold text-ink-2">{whom.word}</h2>
                    <ul>
                      {found.questions
                        .filter((row) => row.of === whom.value)
                        .map((row) => (
                          <Question
                            key={`${row.key} ${row.asked} ${row.due} ${row.answer}`}
                            row={row}
                            act={acts.mutate}
                            busy={acts.isPending}
                          />
                        ))}
                    </ul>
                  </section>
                ))}
            </div>
            <div className="grid content-start gap-6">
              <Usual sheet={found} act={acts.mutate} busy={acts.isPending} word={word} />
              <Own key={found.questions.length} sheet={found} act={acts.mutate} busy={acts.isPending} />
            </div>
          </div>
        )}
      </Page>
      {data && (
        <NextBar
          sentence={
            next
              ? `${word(next.of)}: ${next.question}`
              : data.questions.length > 0
                ? "Every question is answered."
                : "Take up the questions that are usual here."
          }
          detail={
            next
              ? next.state === "overdue"
                ? `It was wanted by ${day(next.due)}.`
                : next.state === "asked"
                  ? `Asked ${day(next.asked)}; ${next.holds ? `it holds up ${next.holds}.` : "no answer yet."}`
                  : "Nobody asked it yet."
              : undefined
          }
        />
      )}
    </>
  );
}

function day(text: string | null): string {
  return text ? dayOf(text) : "";
}

function words(row: Row): Words {
  const { of, question, holds, person, asked, due, answer } = row;
  return { of, question, holds, person, asked, due, answer };
}

function Question({ row, act, busy }: { row: Row; act: (act: Act) => void; busy: boolean }) {
  const [answer, setAnswer] = useState(row.answer ?? "");
  const [due, setDue] = useState(row.due ?? "");
  const [person, setPerson] = useState(row.person);
  const keep = (more: Partial<Words>) =>
    act({ do: "keep", question: row.key, body: { ...words(row), due: due || null, person, ...more } });
  const today = new Date().toLocaleDateString("sv-SE");
  return (
    <li className="grid grid-cols-[1.25rem_minmax(0,1fr)] gap-x-3 border-t border-hair py-2.5">
      <span className="pt-1">
        <Mark name={MARKS[row.state] ?? "planned"} />
      </span>
      <div className="min-w-0">
        <p className="font-semibold [overflow-wrap:anywhere]">{row.question}</p>
        <p className="text-small text-ink-2">
          <b className="font-semibold text-ink">{row.state}</b>
          {row.state === "asked" ? ` ${day(row.asked)}` : row.asked && `, asked ${day(row.asked)}`}
          {row.answered && ` ${day(row.answered)}`}
          {row.due && row.state !== "answered" && `, wanted by ${day(row.due)}`}
          {row.holds && ` · holds up ${row.holds}`}
        </p>
        {row.state === "answered" ? (
          <p className="flex flex-wrap items-center gap-x-4">
            <span className="border-l-4 border-hair pl-3 [overflow-wrap:anywhere]">{row.answer}</span>
            <Quiet label="Ask again" of={row.question} run={() => keep({ answer: null })} />
          </p>
        ) : (
          <form
            className="flex flex-wrap items-end gap-3 pt-1.5"
            onSubmit={(event) => {
              event.preventDefault();
              keep({ answer });
            }}
          >
            {!row.asked ? (
              <>
                <label className="grid min-w-0 gap-0.5 text-cell">
                  who there
                  <input
                    className="box w-44 min-w-0"
                    value={person}
                    maxLength={200}
                    onChange={(event) => setPerson(event.target.value)}
                  />
                </label>
                <label className="grid gap-0.5 text-cell">
                  wanted by
                  <input
                    type="date"
                    className="box"
                    value={due}
                    onChange={(event) => setDue(event.target.value)}
                  />
                </label>
                <button
                  type="button"
                  className="btn"
                  disabled={busy}
                  aria-label={`Asked today: ${row.question}`}
                  onClick={() => keep({ asked: today })}
                >
                  Asked today
                </button>
              </>
            ) : null}
            <LineField
              label={`answer${row.person ? ` of ${row.person}` : ""}`}
              value={answer}
              set={setAnswer}
              most={2000}
              look="flex-1 basis-80"
            />
            <button
              type="submit"
              className="btn"
              disabled={busy || !answer.trim()}
              aria-label={`Answered: ${row.question}`}
            >
              Answered
            </button>
            <Quiet label="Not needed" of={row.question} run={() => act({ do: "drop", question: row.key })} />
          </form>
        )}
      </div>
    </li>
  );
}

function Quiet({ label, of, run }: { label: string; of: string; run: () => void }) {
  return (
    <button
      type="button"
      className="min-h-11 text-small underline underline-offset-4"
      aria-label={`${label}: ${of}`}
      onClick={run}
    >
      {label}
    </button>
  );
}

function Usual({
  sheet,
  act,
  busy,
  word,
}: {
  sheet: Sheet;
  act: (act: Act) => void;
  busy: boolean;
  word: (of: string) => string;
}) {
  if (sheet.suggested.length === 0) return null;
  return (
    <section aria-labelledby="usual" className="slip">
      <h2 id="usual" className="pb-1 text-lead font-semibold">
        Usual here
      </h2>
      <ul>
        {sheet.suggested.map((item) => (
          <li key={item.key} className="flex items-start gap-3 border-t border-hair py-1">
            <p className="min-w-0 flex-1 py-1.5 text-small leading-5">
              <b className="font-semibold">{word(item.of)}:</b> {item.question}
            </p>
            <button
              type="button"
              className="min-h-11 text-small font-semibold whitespace-nowrap underline underline-offset-4"
              disabled={busy}
              aria-label={`Take up: ${item.question}`}
              onClick={() =>
                act({
                  do: "keep",
                  question: item.key,
                  body: {
                    of: item.of,
                    question: item.question,
                    holds: item.holds,
                    person: "",
                    asked: null,
                    due: null,
                    answer: null,
                  },
                })
              }
            >
              Take up
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Own({ sheet, act, busy }: { sheet: Sheet; act: (act: Act) => void; busy: boolean }) {
  const [of, setOf] = useState(sheet.whom[0]?.value ?? "it");
  const [question, setQuestion] = useState("");
  const [holds, setHolds] = useState("");
  return (
    <form
      aria-labelledby="own"
      className="grid gap-2 border-t-2 border-ink pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        act({
          do: "keep",
          question: "",
          body: {
            of: of as Words["of"],
            question,
            holds,
            person: "",
            asked: null,
            due: null,
            answer: null,
          },
        });
      }}
    >
      <h2 id="own" className="text-lead font-semibold">
        A question of your own
      </h2>
      <Choice label="to whom" options={sheet.whom} value={of} set={setOf} box="w-full min-w-0" />
      <label className="grid gap-0.5 text-cell">
        what is asked
        <textarea
          className="box min-h-20 py-2"
          maxLength={500}
          value={question}
          onChange={(event) => setQuestion(event.target.value)}
        />
      </label>
      <LineField label="what the answer holds up" value={holds} set={setHolds} most={200} />
      <button type="submit" className="btn justify-self-start" disabled={busy || !question.trim()}>
        Write it down
      </button>
    </form>
  );
}

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { showAnswer } from "../../api/answered";
import { ask, client, type Refused, type Schemas } from "../../api/client";
import { useSiteKey } from "../../api/site";
import { Trouble } from "../../parts/Feedback";
import { Mark, State } from "../../parts/Mark";
import { NextBar } from "../../parts/NextBar";
import { Page } from "../../parts/Page";

type Sheet = Schemas["LessonSheet"];
type Line = Sheet["lines"][number];

export function useBeginning() {
  const key = useSiteKey();
  const queries = useQueryClient();
  const navigate = useNavigate();
  return useMutation<Sheet, Refused, Schemas["NewLesson"]["kind"]>({
    mutationFn: (kind) =>
      ask(
        client.POST("/api/sites/{key}/lessons", { params: { path: { key } }, body: { kind } }),
      ) as Promise<Sheet>,
    onSuccess: (found) => {
      showAnswer(queries, ["site", key, "lesson", found.number], found);
      navigate(`/sites/${key}/faults/lessons/${found.number}`);
    },
  });
}

/** A lesson on the values of this site: reasons to choose, or a set-up with mistakes to find. */
export function Lesson() {
  const key = useSiteKey();
  const number = Number(useParams().number);
  const queries = useQueryClient();
  const found = useQuery({
    queryKey: ["site", key, "lesson", number],
    queryFn: () =>
      ask(client.GET("/api/sites/{key}/lessons/{number}", { params: { path: { key, number } } })),
  });
  const [chosen, setChosen] = useState<Record<string, number>>({});
  const [marked, setMarked] = useState<string[]>([]);
  const begin = useBeginning();
  const answer = useMutation<Sheet, Refused>({
    mutationFn: () =>
      ask(
        client.PUT("/api/sites/{key}/lessons/{number}", {
          params: { path: { key, number } },
          body: {
            chosen: Object.keys(chosen).length
              ? (found.data?.lines ?? []).map((line) => chosen[line.key] ?? -1)
              : [],
            marked,
          },
        }),
      ),
    onSuccess: (sheet) => showAnswer(queries, ["site", key, "lesson", number], sheet),
  });
  const data = found.data;
  const left =
    data?.kind === "questions" ? data.lines.filter((line) => chosen[line.key] === undefined).length : 0;
  return (
    <>
      <Page
        title={data?.title ?? "Lesson"}
        fetched={found}
        aside={
          <Link
            to="../faults"
            relative="path"
            className="ml-auto inline-flex min-h-11 items-center text-small"
          >
            All cases and drills
          </Link>
        }
      >
        {(sheet) => (
          <div className="max-w-4xl pt-1">
            {answer.error && <Trouble error={answer.error} />}
            {begin.error && <Trouble error={begin.error} />}
            {sheet.done && (
              <p className="pb-2 text-lead font-semibold">
                <State name={sheet.right === sheet.of ? "proven" : "off"}>
                  {sheet.right} of {sheet.of} right
                </State>
              </p>
            )}
            <p className="pb-2 text-ink-2">
              {sheet.kind === "questions"
                ? "Each value is one of this site. Why is it so?"
                : `${sheet.device} as somebody set it up. Mark the ${sheet.of} values that are wrong; a right one that is marked counts against it.`}
            </p>
            {sheet.kind === "questions" ? (
              <ol aria-label="Questions" className="grid gap-4">
                {sheet.lines.map((line, at) => (
                  <Question
                    key={line.key}
                    line={line}
                    number={at + 1}
                    chosen={sheet.done ? line.chosen : (chosen[line.key] ?? null)}
                    choose={sheet.done ? undefined : (option) => setChosen({ ...chosen, [line.key]: option })}
                  />
                ))}
              </ol>
            ) : (
              <ul aria-label="Values as they were found">
                {sheet.lines.map((line) => (
                  <Value
                    key={line.key}
                    line={line}
                    done={sheet.done}
                    marked={sheet.done ? line.marked : marked.includes(line.key)}
                    mark={() =>
                      setMarked(
                        marked.includes(line.key)
                          ? marked.filter((one) => one !== line.key)
                          : [...marked, line.key],
                      )
                    }
                  />
                ))}
              </ul>
            )}
          </div>
        )}
      </Page>
      {data && (
        <NextBar
          sentence={
            data.done
              ? `${data.right} of ${data.of} right.`
              : left > 0
                ? `${left} questions are open.`
                : data.kind === "mistakes"
                  ? `${marked.length} of ${data.of} marked.`
                  : "Every question is answered."
          }
          go={
            data.done
              ? {
                  label: "Another one",
                  key: " ",
                  run: () => begin.mutate(data.kind),
                  disabled: begin.isPending,
                }
              : {
                  label: "Show what is right",
                  key: "Enter",
                  run: () => answer.mutate(),
                  disabled: answer.isPending || left > 0 || (data.kind === "mistakes" && marked.length === 0),
                }
          }
        />
      )}
    </>
  );
}

function Question({
  line,
  number,
  chosen,
  choose,
}: {
  line: Line;
  number: number;
  chosen: number | null;
  choose?: ((option: number) => void) | undefined;
}) {
  return (
    <li>
      <fieldset>
        <legend className="pb-1">
          {number}. <b className="font-semibold">{line.label}</b> of {line.device} is{" "}
          <span className="font-mono">{line.value}</span>
        </legend>
        {line.options.map((option, at) => {
          const right = line.right === option;
          return (
            <label key={option} className="flex min-h-11 items-center gap-3 border-t border-hair text-small">
              <input
                type="radio"
                className="size-5 shrink-0 accent-kelp"
                name={`question-${line.key}`}
                checked={chosen === at}
                disabled={!choose}
                onChange={() => choose?.(at)}
              />
              <span className="min-w-0 flex-1">{option}</span>
              {!choose && right && <State name="set">right</State>}
              {!choose && !right && chosen === at && <State name="broken">not this</State>}
            </label>
          );
        })}
      </fieldset>
    </li>
  );
}

function Value({
  line,
  done,
  marked,
  mark,
}: {
  line: Line;
  done: boolean;
  marked: boolean;
  mark: () => void;
}) {
  return (
    <li className="border-t border-hair">
      <label className="flex min-h-11 flex-wrap items-center gap-x-3">
        <input
          type="checkbox"
          className="size-5 shrink-0 accent-kelp"
          checked={marked}
          disabled={done}
          onChange={mark}
        />
        <span className="w-52 min-w-0 text-small">{line.label}</span>
        <span className="min-w-0 flex-1 font-mono [overflow-wrap:anywhere]">{line.value}</span>
        {done && line.right !== null && (
          <span className="flex items-center gap-2 text-small">
            <Mark name={line.good ? "set" : "broken"} word={line.good ? "found" : "missed"} />
            right is <span className="font-mono">{line.right}</span>
          </span>
        )}
        {done && line.right === null && line.marked && <State name="broken">it was right</State>}
      </label>
      {done && line.why && <p className="pb-2 pl-8 text-small text-ink-2">{line.why}</p>}
    </li>
  );
}

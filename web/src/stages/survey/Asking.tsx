import { useQuery } from "@tanstack/react-query";
import { type FormEvent, type KeyboardEvent, useDeferredValue, useEffect, useRef, useState } from "react";
import { ask, client, Refused, type Schemas } from "../../api/client";
import { useChange, useSiteKey } from "../../api/site";
import { useDraft } from "../../parts/drafts";
import { Trouble } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";
import { Follows } from "./Follows";

type Question = Schemas["QuestionRow"];
type Blank = Schemas["BlankRow"];
/** What is typed, and what stood there when the typing began: the server judges by that whether it is stale. */
type Draft = {
  typed: Record<string, string>;
  none: string[];
  by: string;
  was: Record<string, string>;
  revision: number;
};

export function draftName(site: string, question: string): string {
  return `${site}.survey.${question}`;
}

/** The open question: its blanks, who says it, and the consequences while it is typed. */
export function Asking({
  question,
  revision,
  people,
  close,
}: {
  question: Question;
  revision: number;
  people: string[];
  close: () => void;
}) {
  const site = useSiteKey();
  const was = Object.fromEntries(question.blanks.map((blank) => [blank.path, blank.value]));
  const [draft, setDraft, clear] = useDraft<Draft>(draftName(site, question.key), {
    typed: was,
    none: question.blanks.filter((blank) => blank.none).map((blank) => blank.path),
    by: question.told_by ?? people[0] ?? "",
    was,
    revision,
  });
  const form = useRef<HTMLFormElement>(null);
  useEffect(() => {
    form.current?.querySelector<HTMLElement>("input,select,textarea")?.focus();
  }, []);
  const save = useChange((key, body: Schemas["Answer"]) =>
    ask(
      client.POST("/api/sites/{key}/survey/{question}", {
        params: { path: { key, question: question.key } },
        body,
      }),
    ),
  );
  const preview = usePreview(question, draft);
  const fault = (path: string) =>
    [save.error, preview.error].flatMap((error) =>
      error instanceof Refused ? error.faults.filter((item) => item.path === path) : [],
    )[0]?.message;

  function submit(event: FormEvent) {
    event.preventDefault();
    const { by, ...rest } = draft;
    save.mutate(
      { ...rest, told_by: by || null },
      {
        onSuccess: () => {
          clear();
          close();
        },
      },
    );
  }
  function keys(event: KeyboardEvent) {
    if (event.key === "Escape") {
      event.preventDefault();
      close();
    }
  }
  const elsewhere = [save.error].filter((error) => error && !question.blanks.some((b) => fault(b.path)));
  return (
    <li id={`asked-${question.key}`} className="border-y-2 border-brass-fill bg-brass-wash">
      <form
        ref={form}
        onSubmit={submit}
        onKeyDown={keys}
        noValidate
        aria-label={question.words}
        className="grid gap-x-5 gap-y-3 px-3 py-4 md:grid-cols-[100px_minmax(0,1fr)] xl:grid-cols-[100px_minmax(0,1fr)_400px]"
      >
        <p className="flex items-start gap-2 text-list font-semibold">
          <Mark name="turn" /> <span className="min-w-0 break-words">{question.margin}</span>
        </p>
        <div className="min-w-0">
          <h3 className="text-lead font-semibold">{question.words}</h3>
          {question.caution && (
            <p className="mt-2 border-l-4 border-brass-fill pl-3 font-medium">{question.caution}</p>
          )}
          <div className="mt-3 flex flex-wrap items-start gap-x-4 gap-y-3">
            {question.blanks.map((blank) => (
              <BlankField
                key={blank.path}
                blank={blank}
                value={draft.typed[blank.path] ?? ""}
                none={draft.none.includes(blank.path)}
                fault={fault(blank.path)}
                type={(value) => setDraft({ ...draft, typed: { ...draft.typed, [blank.path]: value } })}
                setNone={(none) =>
                  setDraft({
                    ...draft,
                    none: none
                      ? [...draft.none, blank.path]
                      : draft.none.filter((path) => path !== blank.path),
                  })
                }
              />
            ))}
          </div>
          {elsewhere[0] && (
            <div className="mt-3">
              <Trouble error={elsewhere[0]} />
            </div>
          )}
          <div className="mt-4 flex flex-wrap items-end gap-3">
            <label className="grid w-52 gap-1 text-small">
              Told by
              <input
                className="box w-full"
                value={draft.by}
                list="survey-people"
                autoComplete="off"
                onChange={(event) => setDraft({ ...draft, by: event.target.value })}
              />
              <datalist id="survey-people">
                {people.map((person) => (
                  <option key={person} value={person} />
                ))}
              </datalist>
            </label>
            <button type="submit" className="btn btn-main" disabled={save.isPending}>
              Write it down
            </button>
            <button
              type="button"
              className="btn"
              onClick={() => {
                clear();
                close();
              }}
            >
              Leave as it was
            </button>
          </div>
        </div>
        <div className="xl:border-l xl:border-brass-fill xl:pl-5">
          <h4 className="pb-2 text-small font-semibold">What follows from it</h4>
          {preview.data ? (
            <Follows follows={preview.data.follows[question.key] ?? []} large />
          ) : (
            <Follows follows={question.follows} large />
          )}
        </div>
      </form>
    </li>
  );
}

/** What would follow from the draft; the last answer stays until the next one is there. */
function usePreview(question: Question, draft: Draft) {
  const key = useSiteKey();
  const typed = useDeferredValue(JSON.stringify({ typed: draft.typed, none: draft.none }));
  const [settled, setSettled] = useState(typed);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(typed), 250);
    return () => clearTimeout(timer);
  }, [typed]);
  return useQuery({
    queryKey: ["site", key, "survey-preview", question.key, settled],
    queryFn: () =>
      ask(
        client.POST("/api/sites/{key}/survey/{question}/preview", {
          params: { path: { key, question: question.key } },
          body: JSON.parse(settled) as Schemas["Answers"],
        }),
      ),
    placeholderData: (before) => before,
    retry: false,
  });
}

function BlankField({
  blank,
  value,
  none,
  fault,
  type,
  setNone,
}: {
  blank: Blank;
  value: string;
  none: boolean;
  fault: string | undefined;
  type: (value: string) => void;
  setNone: (none: boolean) => void;
}) {
  const area = ["lines", "ranges", "kept"].includes(blank.kind);
  const mono = !["text", "lines", "people", "choice", "yes-no"].includes(blank.kind);
  const wide = area || ["text", "people"].includes(blank.kind);
  const look = `box w-full py-2 ${mono ? "font-mono text-list" : ""} ${fault ? "border-red outline-red" : ""}`;
  const id = `blank-${blank.path}`;
  const shared = {
    id,
    className: look,
    disabled: none,
    value: none ? "" : value,
    "aria-invalid": fault ? true : undefined,
    "aria-describedby": fault ? `${id}-fault` : undefined,
  };
  const options =
    blank.kind === "yes-no" ? ["yes", "no"].map((value) => ({ value, word: value })) : blank.options;
  return (
    <div className={wide ? "w-full max-w-sm" : "w-44"}>
      <label htmlFor={id} className="block pb-1 text-small">
        {blank.label}
      </label>
      {options.length > 0 ? (
        <select {...shared} onChange={(event) => type(event.target.value)}>
          <option value="">not known</option>
          {options.map((option) => (
            <option key={option.value} value={option.value}>
              {option.word}
            </option>
          ))}
        </select>
      ) : area ? (
        <textarea
          {...shared}
          rows={Math.max(2, value.split("\n").length)}
          placeholder={blank.example}
          onChange={(event) => type(event.target.value)}
        />
      ) : (
        <input
          {...shared}
          autoComplete="off"
          spellCheck={!mono}
          placeholder={blank.example}
          onChange={(event) => type(event.target.value)}
        />
      )}
      {fault && (
        <p id={`${id}-fault`} className="mt-1 text-small font-medium text-red">
          {fault}
        </p>
      )}
      {blank.can_be_none && (
        <label className="mt-1 flex min-h-8 items-center gap-2 text-small">
          <input type="checkbox" checked={none} onChange={(event) => setNone(event.target.checked)} />
          there is none
        </label>
      )}
    </div>
  );
}

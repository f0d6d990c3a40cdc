import { useEffect } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { useSheet, useSiteKey } from "../../api/site";
import { hasDraft } from "../../parts/drafts";
import { Forms } from "../../parts/Files";
import { Mark, State } from "../../parts/Mark";
import { Page } from "../../parts/Page";
import { StageNext } from "../../parts/StageNext";
import { upper } from "../../parts/words";
import { Asking, draftName } from "./Asking";
import { Follows } from "./Follows";
import { NewNetwork } from "./NewNetwork";

type Sheet = Schemas["Survey"];
type Question = Schemas["QuestionRow"];

/** The conversation with the customer's people: what is asked, what they said, and what follows from it. */
export function Survey() {
  const sheet = useSheet("survey");
  const [search, setSearch] = useSearchParams();
  const asked = search.get("ask");
  const questions = sheet.data?.questions ?? [];
  const ask = (key: string | null) => setSearch(key ? { ask: key } : {}, { replace: true });
  return (
    <>
      <Page
        title="Survey"
        fetched={sheet}
        aside={
          <>
            <p className="text-ink-2">What the customer’s people say, before anything is unpacked.</p>
            <div className="ml-auto text-small">
              <span className="flex flex-wrap items-center gap-x-4">
                <Link className="inline-flex min-h-11 items-center" to="../asked">
                  Questions to others
                </Link>
                <Link className="inline-flex min-h-11 items-center" to="../cards?part=before-leaving">
                  What to bring
                </Link>
                Request to IT <Forms name="request" title="Request to IT" endings={["pdf", "xlsx"]} />
              </span>
            </div>
          </>
        }
      >
        {(data) => <Conversation data={data} asked={asked} ask={ask} />}
      </Page>
      {sheet.data && (
        <StageNext
          stage="survey"
          acts={({ act, subjects: [question] }) =>
            act === "ask" && question && questions.some((item) => item.key === question)
              ? { label: "Open the question", run: () => ask(question), disabled: asked === question }
              : undefined
          }
        />
      )}
    </>
  );
}

function Conversation({
  data,
  asked,
  ask,
}: {
  data: Sheet;
  asked: string | null;
  ask: (key: string | null) => void;
}) {
  const site = useSiteKey();
  useEffect(() => {
    if (asked) document.getElementById(`asked-${asked}`)?.scrollIntoView({ block: "nearest" });
  }, [asked]);
  return (
    <div className="mt-2 border-t-2 border-ink">
      <h2 className="sr-only">Questions and answers</h2>
      <ol>
        {data.questions.map((question) =>
          question.key === asked ? (
            <Asking
              key={question.key}
              question={question}
              revision={data.revision}
              people={data.people}
              close={() => ask(null)}
            />
          ) : (
            <Answered
              key={question.key}
              question={question}
              unsaved={hasDraft(draftName(site, question.key))}
              ask={() => ask(question.key)}
            />
          ),
        )}
      </ol>
      <NewNetwork revision={data.revision} networks={data.names} raw={data.networks} />
    </div>
  );
}

/** A question with its answer as a sentence; pressing it opens it for asking. */
function Answered({ question, unsaved, ask }: { question: Question; unsaved: boolean; ask: () => void }) {
  const said = question.blanks.some((blank) => blank.value || blank.none);
  return (
    <li className="grid gap-x-5 border-b border-hair py-3 md:grid-cols-[112px_minmax(0,1fr)_110px] xl:grid-cols-[112px_minmax(0,1fr)_110px_minmax(0,400px)]">
      <p className="truncate text-list font-semibold" title={question.margin}>
        {question.margin}
      </p>
      <button
        type="button"
        onClick={ask}
        className="block min-h-11 w-full text-left"
        aria-label={`${question.words} Ask`}
      >
        <span className="block text-body font-semibold">{question.words}</span>
        {said ? <Sentence question={question} /> : null}
        {question.blanks.map(
          (blank) =>
            blank.overtaken !== null && (
              <span key={blank.path} className="flex items-start gap-2 text-small">
                <Mark name="loose" word="changed since" /> {blank.label}: told{" "}
                {blank.overtaken === "" ? "“there is none”" : `“${blank.overtaken.replaceAll("\n", ", ")}”`},
                changed since.
              </span>
            ),
        )}
        {question.missing.length > 0 && (
          <span className="block text-ink-2">Not known: {question.missing.join(", ")}.</span>
        )}
      </button>
      <p className="text-small">
        {unsaved ? (
          <State name="turn">not saved yet</State>
        ) : question.missing.length === 0 ? (
          <State name="set">told</State>
        ) : said ? (
          <State name="loose">partly told</State>
        ) : (
          <State name="planned">not asked yet</State>
        )}
      </p>
      <div className="md:col-start-2 md:col-end-4 xl:col-start-4 xl:border-l xl:border-hair xl:pl-5">
        <Follows follows={question.follows} />
      </div>
    </li>
  );
}

/** The answer as it was said: words around the blanks, what was told underlined. */
function Sentence({ question }: { question: Question }) {
  const told = question.blanks.filter((blank) => blank.value || blank.none);
  return (
    <span className="block">
      {question.told_by && <span className="mr-3 text-ink-2">{question.told_by}</span>}
      {told.map((blank, at) => (
        <span key={blank.path}>
          {at === 0 ? capital(blank.before) : blank.before}{" "}
          {blank.none ? (
            <b className="font-semibold">nothing: there is none</b>
          ) : (
            <b
              className={`border-b border-field font-semibold break-words ${/^[\d.,/–\s]+$/.test(blank.value) ? "font-mono text-list" : ""}`}
            >
              {spoken(blank)}
            </b>
          )}
          {blank.after ? ` ${blank.after}` : ""}
          {at < told.length - 1 ? ", " : "."}
        </span>
      ))}
    </span>
  );
}

function spoken(blank: Schemas["BlankRow"]): string {
  const option = blank.options.find((item) => item.value === blank.value);
  return option ? option.word.replace(/ Hz$/, "") : blank.value.replaceAll("\n", ", ");
}

function capital(words: string): string {
  return upper(words);
}

import { useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useChange } from "../../api/site";
import { useDraft } from "../../parts/drafts";
import { type MarkName, State } from "../../parts/Mark";
import { Trouble } from "../../parts/Notes";
import type { Card } from "./useLink";

type Test = Schemas["TestRow"];
const LOOKS: Record<Test["state"], [MarkName, string]> = {
  planned: ["planned", "not seen yet"],
  proven: ["proven", "seen"],
  broken: ["broken", "failed"],
  doubtful: ["off", "seen before it changed"],
};

/** What proves a link, witnessed by whoever stands there. */
export function Tests({ card }: { card: Card }) {
  return (
    <section aria-label="What proves it">
      <h3 className="border-b-2 border-ink pb-1 font-semibold">What proves it</h3>
      <ul>
        {card.tests.map((test) => (
          <TestLine key={test.key} test={test} id={card.id} />
        ))}
      </ul>
    </section>
  );
}

function TestLine({ test, id }: { test: Test; id: number }) {
  const [failing, setFailing] = useState(false);
  const [words, setWords, clear] = useDraft(`witness ${id} ${test.key}`, "");
  const witness = useChange((key, body: Schemas["Witnessed"]) =>
    ask(
      client.POST("/api/sites/{key}/links/{number}/readings", {
        params: { path: { key, number: id } },
        body,
      }),
    ),
  );
  const [mark, word] = LOOKS[test.state];
  function keep(result: "pass" | "fail") {
    witness.mutate(
      { test: test.key, result, words },
      {
        onSuccess: () => {
          clear();
          setFailing(false);
        },
      },
    );
  }
  return (
    <li className="border-b border-hair py-2" aria-label={test.title}>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <span className="min-w-0 flex-1 basis-64">
          <b className="font-semibold">{test.title}</b>
          <span className="block text-small text-ink-2 [overflow-wrap:anywhere]">{test.expected}</span>
          {test.measured && (
            <span className="block text-small">
              {test.measured}
              {test.by && `, ${test.by}`}
              {test.at &&
                `, ${new Date(test.at).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" })}`}
            </span>
          )}
          {test.changed.map((change) => (
            <span key={change} className="block text-small text-brass">
              {change}
            </span>
          ))}
        </span>
        <State name={mark}>{word}</State>
        <span className="flex gap-2">
          <button
            type="button"
            className="btn"
            disabled={witness.isPending}
            aria-label={`${test.title}: seen`}
            onClick={() => keep("pass")}
          >
            Seen
          </button>
          <button
            type="button"
            className="btn"
            aria-expanded={failing}
            aria-label={`${test.title}: not so`}
            onClick={() => setFailing(!failing)}
          >
            Not so
          </button>
        </span>
      </div>
      {failing && (
        <form
          className="mt-2 flex flex-wrap items-end gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            keep("fail");
          }}
        >
          <label className="grid min-w-0 flex-1 basis-64 gap-1 text-small font-semibold">
            What was seen instead
            <input
              className="box font-normal"
              value={words}
              maxLength={500}
              onChange={(event) => setWords(event.target.value)}
            />
          </label>
          <button type="submit" className="btn" disabled={!words.trim() || witness.isPending}>
            Keep as failed
          </button>
        </form>
      )}
      {witness.error && <Trouble error={witness.error} />}
    </li>
  );
}

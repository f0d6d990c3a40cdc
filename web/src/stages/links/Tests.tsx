import { ask, client, type Schemas } from "../../api/client";
import { useChange } from "../../api/site";
import { type MarkName, State } from "../../parts/Mark";
import { Witness } from "../../parts/Witness";
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
  const witness = useChange((key, body: Schemas["Witnessed"]) =>
    ask(
      client.POST("/api/sites/{key}/links/{number}/readings", {
        params: { path: { key, number: id } },
        body,
      }),
    ),
  );
  const [mark, word] = LOOKS[test.state];
  return (
    <li
      className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-hair py-2"
      aria-label={test.title}
    >
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
      <Witness
        name={test.title}
        draft={`witness ${id} ${test.key}`}
        pending={witness.isPending}
        error={witness.error}
        keep={(result, words, done) => witness.mutate({ test: test.key, result, words }, { onSuccess: done })}
      />
    </li>
  );
}

import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { useSiteKey } from "../../api/site";
import { Trouble } from "../../parts/Feedback";
import { State } from "../../parts/Mark";
import { type Act, NextBar } from "../../parts/NextBar";
import { Page } from "../../parts/Page";
import { Causes, SeenList } from "./Causes";
import { AnyCheck, CheckSlip } from "./CheckSlip";
import { Again, Conclude, DrillEnd } from "./Ending";
import { STATES } from "./Faults";
import { type Case, type Step, type Told, useCase, useStep } from "./useCase";
import { Way } from "./Way";

/** One case, from the complaint to measured again. */
export function CasePage() {
  const number = Number(useParams().number);
  const found = useCase(number);
  const step = useStep(number);
  const [concluding, setConcluding] = useState(false);
  const data = found.data;
  const act = (next: Step) => step.mutate(next, { onSuccess: () => setConcluding(false) });
  const tell = (told: Told) => act({ do: "seen", told });
  return (
    <>
      <Page
        title={data?.title ?? "Fault finding"}
        fetched={found}
        aside={
          data && (
            <>
              <State name={STATES[data.state as keyof typeof STATES].mark}>
                {STATES[data.state as keyof typeof STATES].word}
              </State>
              <Link to=".." relative="path" className="ml-auto inline-flex min-h-11 items-center text-small">
                All cases
              </Link>
            </>
          )
        }
      >
        {(sheet) => (
          <div className="grid gap-x-6 gap-y-4 pt-1 xl:grid-cols-[minmax(0,1fr)_22rem]">
            <div className="min-w-0">
              {step.error && <Trouble error={step.error} />}
              {sheet.story && (
                <p className="mb-3 max-w-2xl border-l-4 border-hair py-1 pl-3">
                  {sheet.story}
                  {sheet.caution && <span className="block text-small text-ink-2">{sheet.caution}</span>}
                </p>
              )}
              {sheet.score && <DrillEnd score={sheet.score} teaches={sheet.teaches} />}
              {concluding && sheet.state === "open" && (
                <Conclude data={sheet} step={act} busy={step.isPending} close={() => setConcluding(false)} />
              )}
              <Concluded data={sheet} />
              <Way data={sheet} />
              <SeenList data={sheet} back={() => act({ do: "back" })} busy={step.isPending} />
              <Causes data={sheet} />
              <Capture data={sheet} />
            </div>
            <div className="grid content-start gap-4 max-xl:row-start-1">
              {sheet.state === "mended" && (
                <Again data={sheet} tell={(told) => act({ do: "again", told })} busy={step.isPending} />
              )}
              {sheet.state === "open" && sheet.next && (
                <CheckSlip
                  key={`${sheet.next.check} ${sheet.next.at}`}
                  check={sheet.next}
                  tell={tell}
                  busy={step.isPending}
                />
              )}
              {sheet.state === "open" &&
                (sheet.hides ? (
                  <AnyCheck data={sheet} tell={tell} busy={step.isPending} />
                ) : (
                  <details>
                    <summary className="flex min-h-11 cursor-pointer items-center text-small font-semibold">
                      Another check
                    </summary>
                    <AnyCheck data={sheet} tell={tell} busy={step.isPending} />
                  </details>
                ))}
            </div>
          </div>
        )}
      </Page>
      {data && <Bar data={data} busy={step.isPending} act={act} conclude={() => setConcluding(true)} />}
    </>
  );
}

function Bar({
  data,
  busy,
  act,
  conclude,
}: {
  data: Case;
  busy: boolean;
  act: (step: Step) => void;
  conclude: () => void;
}) {
  const navigate = useNavigate();
  const site = useSiteKey();
  const check = data.next;
  const name: Act = { label: "Name the cause", key: "c", run: conclude, disabled: busy };
  if (data.state === "found")
    return (
      <NextBar
        sentence={data.drill ? "Put right what you named; then it shows." : "Put it right, then say so."}
        detail={data.cause?.map((item) => item.says).join("; ")}
        go={{
          label: data.drill ? "Put it right" : "It is put right",
          key: " ",
          run: () => act({ do: "mended", note: "" }),
          disabled: busy,
        }}
      />
    );
  if (data.state === "mended") return <NextBar sentence="Measure again what was complained of." />;
  if (data.state === "closed")
    return (
      <NextBar
        sentence={data.drill ? "The drill is over." : "It is as it should be again. The case is closed."}
        go={{ label: "All cases", key: " ", run: () => navigate(`/sites/${site}/faults`) }}
      />
    );
  if (data.hides)
    return (
      <NextBar
        sentence="Ask what tells most for its minutes, then name the cause."
        detail={`${data.minutes} min so far.`}
        go={{ ...name, key: " " }}
      />
    );
  if (!check)
    return (
      <NextBar
        sentence={data.fits ? "No further check is worth its minutes." : "None of the known causes fits."}
        go={{ ...name, key: " " }}
      />
    );
  const told = (result: string | null): Step => ({
    do: "seen",
    told: { check: check.check, at: check.at, result },
  });
  const answers: Act[] = check.answers.map((answer, at) => ({
    label: answer.word,
    key: String(at + 1),
    run: () => act(told(answer.result)),
    disabled: busy,
  }));
  return (
    <NextBar
      sentence={check.asks}
      detail={busy ? "Looking …" : `about ${check.minutes} min`}
      others={check.by_server ? [name] : answers.slice(0, 3)}
      go={
        check.by_server
          ? { label: "Measure it", key: " ", run: () => act(told(null)), disabled: busy }
          : undefined
      }
    />
  );
}

function Concluded({ data }: { data: Case }) {
  if (data.cause === null || (data.drill && data.state === "open")) return null;
  return (
    <p className="border-l-4 border-kelp px-3 py-1">
      <b>{data.drill ? "You named: " : "Cause: "}</b>
      {data.cause.map((item) => item.says).join("; ") || "none of the known ones"}
      {data.note && `. ${data.note}`}
    </p>
  );
}

/** What the supplier asks for first, filled in as far as it is known. */
function Capture({ data }: { data: Case }) {
  if (data.hides || data.capture.length === 0) return null;
  return (
    <details className="border-t border-hair">
      <summary className="flex min-h-11 cursor-pointer items-center text-small font-semibold">
        Before the unit is blamed: what to write down for the supplier
      </summary>
      <ul className="pb-2 text-small">
        {data.capture.map((line) => (
          <li key={line} className="border-t border-hair py-1.5">
            {line}
          </li>
        ))}
      </ul>
      <button type="button" className="btn no-print" onClick={() => window.print()}>
        Print this page
      </button>
    </details>
  );
}

import { useState } from "react";
import { Link } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSiteKey } from "../../api/site";
import { Empty, Trouble } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";
import { StreamRow } from "./StreamRow";

type Sheet = Schemas["Choices"];
type Choice = Omit<Schemas["Choice"], "revision">;

/** Picture and sound by family: what is usual and why, and what this site wants instead. */
export function Choices({ data }: { data: Sheet }) {
  const site = useSiteKey();
  const choose = useChange((key, choice: Choice) =>
    ask(
      client.PUT("/api/sites/{key}/choices", {
        params: { path: { key } },
        body: { revision: data.revision, ...choice },
      }),
    ),
  );
  if (data.families.length === 0)
    return (
      <Empty title="Nothing to choose yet">
        No device in the kit makes pictures, rings or makes a sound.
      </Empty>
    );
  return (
    <>
      <p className="max-w-3xl pt-2 text-ink-2">
        Every device of a family is typed the same. What stands here goes into the values at the bench; what
        the customer wants otherwise is written beside it. Mains frequency, date and sound recording are asked
        in the <Link to={`/sites/${site}/survey`}>survey</Link>.
      </p>
      {choose.error && <Trouble error={choose.error} />}
      <div className="gap-x-10 xl:columns-2">
        {data.families.map((family) => (
          <section key={family.family} aria-label={family.title} className="break-inside-avoid pt-5">
            <h2 className="border-b-2 border-hair pb-1 text-lead font-semibold">{family.title}</h2>
            <ul>
              {family.lines.map((line) =>
                line.numbers ? (
                  <StreamRow
                    key={`${line.key} ${line.own} ${JSON.stringify(line.numbers)}`}
                    line={line}
                    numbers={line.numbers}
                    family={family.family}
                    revision={data.revision}
                    codecs={data.codecs}
                  />
                ) : (
                  <ChoiceRow
                    key={`${line.key} ${line.own}`}
                    line={line}
                    pending={choose.isPending}
                    choose={(value) => choose.mutate({ family: family.family, setting: line.key, value })}
                  />
                ),
              )}
            </ul>
          </section>
        ))}
      </div>
    </>
  );
}

function ChoiceRow({
  line,
  pending,
  choose,
}: {
  line: Schemas["ChoiceRow"];
  pending: boolean;
  choose: (value: string) => void;
}) {
  const [typed, setTyped] = useState(line.own ?? "");
  const changed = typed.trim() !== (line.own ?? "");
  return (
    <li className="border-b border-hair py-2">
      <form
        className="grid gap-x-4 gap-y-1 md:grid-cols-[11rem_minmax(0,1fr)_13rem]"
        onSubmit={(event) => {
          event.preventDefault();
          if (changed) choose(typed);
        }}
      >
        <span className="flex items-start gap-2 font-semibold">
          {line.own && (
            <span className="mt-1">
              <Mark name="set" word="chosen here" />
            </span>
          )}
          {line.label}
        </span>
        <span className="min-w-0">
          <span className={line.own ? "text-ink-2" : ""}>{line.usual}</span>
          <span className="block text-small text-ink-2">{line.why}</span>
        </span>
        <span className="flex items-start gap-2">
          <input
            className="box min-w-0 flex-1"
            aria-label={`${line.label}, what this site wants`}
            placeholder="as usual"
            maxLength={200}
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
          {changed && (
            <button type="submit" className="btn px-3" disabled={pending}>
              Save
            </button>
          )}
        </span>
      </form>
    </li>
  );
}

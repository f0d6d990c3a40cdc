import { type FormEvent, useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useChange } from "../../api/site";
import { Trouble } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";
import { typedNumber } from "../../parts/words";

type Numbers = Schemas["StreamNumbers"];
type Wanted = Omit<Schemas["StreamWanted"], "revision">;
type Name = Exclude<keyof Numbers, "codec">;
const FIELDS: [Name, string, string][] = [
  ["width", "Width", "px"],
  ["height", "Height", "px"],
  ["fps", "Pictures", "a second"],
  ["kbps", "Bit rate", "kbit/s"],
];
/** A stream as the site sets it, in numbers: what is left empty is as each model sends it. */
export function StreamRow({
  line,
  numbers,
  family,
  revision,
  codecs,
}: {
  line: Schemas["ChoiceRow"];
  numbers: Numbers;
  family: Schemas["StreamWanted"]["family"];
  revision: number;
  codecs: Schemas["Option"][];
}) {
  const before = Object.fromEntries(FIELDS.map(([name]) => [name, String(numbers[name] ?? "")]));
  const [typed, setTyped] = useState<Record<string, string>>(before);
  const [codec, setCodec] = useState(numbers.codec ?? "");
  const choose = useChange((key, wanted: Wanted) =>
    ask(
      client.PUT("/api/sites/{key}/choices/stream", {
        params: { path: { key } },
        body: { revision, ...wanted },
      }),
    ),
  );
  const changed =
    codec !== (numbers.codec ?? "") || FIELDS.some(([name]) => typed[name]?.trim() !== before[name]);
  const own = line.own !== null || Object.values(numbers).some((value) => value !== null);
  function submit(event: FormEvent) {
    event.preventDefault();
    const values = FIELDS.map(([name]) => [name, typedNumber(typed[name] ?? "")]);
    choose.mutate({
      family,
      setting: line.key,
      codec: (codec || null) as Wanted["codec"],
      ...Object.fromEntries(values),
    });
  }
  return (
    <li className="border-b border-hair py-2">
      <span className="grid gap-x-4 md:grid-cols-[11rem_minmax(0,1fr)]">
        <span className="flex items-start gap-2 font-semibold">
          {own && (
            <span className="mt-1">
              <Mark name="set" word="chosen here" />
            </span>
          )}
          {line.label}
        </span>
        <span className="min-w-0">
          {line.usual}
          <span className="block text-small text-ink-2">{line.why}</span>
        </span>
      </span>
      {line.own !== null && (
        <p className="pt-1 text-small text-ink-2">
          Typed at the bench as “{line.own}”. It counts in no load until it stands in numbers.
        </p>
      )}
      <form
        className="flex flex-wrap items-end gap-2 pt-2 text-small"
        onSubmit={submit}
        aria-label={line.label}
      >
        {FIELDS.map(([name, label, unit]) => (
          <label key={name} className="grid gap-0.5">
            {label}, {unit}
            <input
              className="box w-24 font-mono"
              inputMode="decimal"
              placeholder="as sent"
              value={typed[name]}
              onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
            />
          </label>
        ))}
        <label className="grid gap-0.5">
          Codec
          <select className="box" value={codec} onChange={(event) => setCodec(event.target.value)}>
            <option value="">as sent</option>
            {codecs.map(({ value, word }) => (
              <option key={value} value={value}>
                {word}
              </option>
            ))}
          </select>
        </label>
        {changed && (
          <button type="submit" className="btn px-3" disabled={choose.isPending}>
            Save
          </button>
        )}
      </form>
      {choose.error && <Trouble error={choose.error} />}
    </li>
  );
}

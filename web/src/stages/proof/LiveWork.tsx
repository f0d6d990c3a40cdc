import { type FormEvent, useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useChange } from "../../api/site";
import { Trouble } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";
import { Only } from "../../parts/Rights";

type Live = Schemas["LiveState"];

/** Real devices are measured only where a named person answers for the networks; what is chosen is always in sight. */
export function LiveWork({
  live,
  real,
  choose,
}: {
  live: Live;
  real: boolean;
  choose: (real: boolean) => void;
}) {
  const { authority } = live;
  const [person, setPerson] = useState("");
  const confirm = useChange((key, body: Schemas["NewAuthority"]) =>
    ask(client.PUT("/api/sites/{key}/authority", { params: { path: { key } }, body })),
  );
  const withdraw = useChange((key, _: null) =>
    ask(client.DELETE("/api/sites/{key}/authority", { params: { path: { key } } })),
  );
  const holds = authority?.holds ?? false;
  function submit(event: FormEvent) {
    event.preventDefault();
    confirm.mutate({ person }, { onSuccess: () => setPerson("") });
  }
  const error = confirm.error ?? withdraw.error;
  return (
    <section
      aria-label="What is measured"
      className={`mt-2 mb-3 border-l-4 px-3 py-2 ${real ? "border-red bg-red-wash" : "border-hair"}`}
    >
      <fieldset className="flex flex-wrap items-center gap-x-5">
        <legend className="sr-only">What is measured</legend>
        {(
          [
            [false, "The pretend site on this machine"],
            [true, "The real devices"],
          ] as const
        ).map(([value, word]) => (
          <label key={word} className="flex min-h-11 items-center gap-2">
            <input
              type="radio"
              name="measured"
              checked={real === value}
              disabled={value && !holds}
              onChange={() => choose(value)}
            />
            {word}
          </label>
        ))}
        {real && (
          <span className="flex items-center gap-2 font-semibold">
            <Mark name="turn" /> Live: asked slowly, only in {live.networks.join(", ")}.
          </span>
        )}
      </fieldset>
      {authority && holds ? (
        <p className="text-small">
          {authority.person} answers for testing {authority.networks.join(", ")}, written down by{" "}
          {authority.by}.{" "}
          <button
            type="button"
            className="min-h-11 underline underline-offset-4"
            onClick={() => withdraw.mutate(null, { onSuccess: () => choose(false) })}
          >
            Take it back
          </button>
        </p>
      ) : (
        <Only right="leading" to="let the real devices be measured">
          <form onSubmit={submit} className="flex flex-wrap items-end gap-3">
            <label className="grid min-w-0 flex-1 basis-72 gap-1 text-small">
              {authority
                ? `The networks are others now than ${authority.person} answered for. Who answers for testing ${live.networks.join(", ")}?`
                : `Test only networks you are authorised to test. Who answers for testing ${live.networks.join(", ")}?`}
              <input
                className="box max-w-96"
                value={person}
                maxLength={200}
                onChange={(event) => setPerson(event.target.value)}
              />
            </label>
            <button type="submit" className="btn" disabled={!person.trim() || confirm.isPending}>
              That person has confirmed it
            </button>
          </form>
        </Only>
      )}
      {error && <Trouble error={error} />}
    </section>
  );
}

import { useId, useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useChange } from "../../api/site";
import { Caution } from "../../parts/Caution";
import { useDraft } from "../../parts/drafts";
import { Trouble } from "../../parts/Notes";

/** "Seen" or "Not so", with the words that a failure needs and the person that an escape door needs. */
export function Seen({
  cell,
  check,
  name,
  big = false,
}: {
  cell: Schemas["Cell"];
  check: Schemas["CheckRow"];
  name: string;
  big?: boolean;
}) {
  const [failing, setFailing] = useState(false);
  const draft = `seen ${cell.device} ${cell.check}`;
  const [words, setWords, clearWords] = useDraft(draft, "");
  const [person, setPerson, clearPerson] = useDraft(`${draft} person`, "");
  const about = useId();
  const keep = useChange((key, body: Schemas["Seen"]) =>
    ask(
      client.POST("/api/sites/{key}/devices/{device}/checks/{check}/seen", {
        params: { path: { key, device: cell.device, check: cell.check } },
        body,
      }),
    ),
  );
  function send(result: "pass" | "fail") {
    keep.mutate(
      { result, words, person },
      {
        onSuccess: () => {
          clearWords();
          clearPerson();
          setFailing(false);
        },
      },
    );
  }
  const unnamed = check.needs_person && !person.trim();
  const size = big ? "btn justify-center max-md:min-h-14 max-md:flex-1" : "btn";
  return (
    <div className="grid gap-2">
      {check.caution && <Caution>{check.caution}</Caution>}
      {check.needs_person && (
        <label className="grid max-w-96 gap-1 text-small font-semibold">
          Who tried the door
          <input
            className="box font-normal"
            value={person}
            maxLength={200}
            onChange={(event) => setPerson(event.target.value)}
          />
        </label>
      )}
      {failing && (
        <label className="grid max-w-96 gap-1 text-small font-semibold" id={about}>
          What was seen instead
          <input
            className="box font-normal"
            value={words}
            maxLength={500}
            onChange={(event) => setWords(event.target.value)}
          />
        </label>
      )}
      <div className="flex gap-2">
        {failing ? (
          <>
            <button
              type="button"
              className={size}
              disabled={!words.trim() || unnamed || keep.isPending}
              onClick={() => send("fail")}
            >
              Keep as failed
            </button>
            <button type="button" className="btn" onClick={() => setFailing(false)}>
              Back
            </button>
          </>
        ) : (
          <>
            <button
              type="button"
              className={size}
              disabled={unnamed || keep.isPending}
              aria-label={`${name}, ${check.title}: seen`}
              onClick={() => send("pass")}
            >
              Seen
            </button>
            <button
              type="button"
              className="btn"
              aria-label={`${name}, ${check.title}: not so`}
              onClick={() => setFailing(true)}
            >
              Not so
            </button>
          </>
        )}
      </div>
      {keep.error && <Trouble error={keep.error} />}
    </div>
  );
}

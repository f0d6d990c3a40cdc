import { ask, client, type Schemas } from "../../api/client";
import { useChange } from "../../api/site";
import { Caution } from "../../parts/Caution";
import { useDraft } from "../../parts/drafts";
import { Witness } from "../../parts/Witness";

/** What somebody saw of a device; an escape door asks who tried it. */
export function Seen({
  cell,
  check,
  name,
  big = false,
}: {
  cell: Schemas["ProofRow"];
  check: Schemas["CheckRow"];
  name: string;
  big?: boolean;
}) {
  const draft = `seen ${cell.device} ${cell.check}`;
  const [person, setPerson, clearPerson] = useDraft(`${draft} person`, "");
  const seen = useChange((key, body: Schemas["Seen"]) =>
    ask(
      client.POST("/api/sites/{key}/devices/{device}/checks/{check}/seen", {
        params: { path: { key, device: cell.device, check: cell.check } },
        body,
      }),
    ),
  );
  return (
    <Witness
      name={`${name}, ${check.title}`}
      draft={draft}
      pending={seen.isPending}
      error={seen.error}
      ready={!check.needs_person || person.trim() !== ""}
      big={big}
      keep={(result, words, done) =>
        seen.mutate(
          { result, words, person },
          {
            onSuccess: () => {
              clearPerson();
              done();
            },
          },
        )
      }
    >
      {check.caution && <Caution>{check.caution}</Caution>}
      {check.needs_person && (
        <label className="grid max-w-96 gap-1 text-small font-semibold">
          Who tried the door
          <input
            className="box font-normal"
            value={person}
            maxLength={200}
            readOnly={seen.isPending}
            onChange={(event) => setPerson(event.target.value)}
          />
        </label>
      )}
    </Witness>
  );
}

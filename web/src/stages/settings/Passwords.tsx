import { useDeferredValue, useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useChange } from "../../api/site";
import { Alike } from "../../parts/Alike";
import { Empty, Trouble } from "../../parts/Feedback";
import { hasAll, wordsOf } from "../../parts/filter";
import { Mark, type MarkName } from "../../parts/Mark";
import { Held } from "../../parts/Rights";
import { SearchBox } from "../../parts/SearchBox";
import { Tellings } from "../../parts/Tellings";
import { isUnmade } from "../../parts/useSlot";

type Sheet = Schemas["Secrets"];
/** Which passwords are kept, by device; whose rules conflict; who was not told of a change yet. */
export function Passwords({ data }: { data: Sheet }) {
  const [typed, setTyped] = useState("");
  const words = wordsOf(useDeferredValue(typed));
  const found = data.devices.filter((device) =>
    hasAll(words, `${device.name} ${device.key} ${device.place ?? ""} ${device.kind}`),
  );
  if (data.devices.length === 0)
    return <Empty title="No passwords yet">There is no device in the kit yet.</Empty>;
  return (
    <>
      <PasswordPolicy data={data} />
      {data.conflicts.length > 0 && (
        <section aria-label="Rules that conflict" className="mt-3 border-t-2 border-red">
          <h2 className="pt-2 font-semibold">No password can satisfy these rules together</h2>
          <ul>
            {data.conflicts.map((item) => (
              <li key={item.sentence} className="flex items-start gap-2 border-b border-hair py-1.5">
                <span className="mt-1">
                  <Mark name="broken" />
                </span>
                <span>
                  <b>{item.where}.</b> {item.sentence}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      <Tellings tellings={data.tellings} />
      <div className="mt-4 flex flex-wrap items-end justify-between gap-3">
        <h2 className="text-lead font-semibold">Saved passwords</h2>
        <SearchBox label="Find in this list" value={typed} search={setTyped} />
      </div>
      <MakeMissing data={data} />
      <Alike
        label="Passwords by device"
        rows={found}
        sign={(device) => JSON.stringify([device.slots.map(lookOf), device.tries.refused])}
        rank={rankOf}
        apart={words.length > 0}
      >
        {(device) => (
          <>
            <span className="w-32 text-ink-2">{device.kind}</span>
            <span className="flex min-w-0 flex-1 flex-wrap gap-x-4">
              {device.slots.map((slot) => (
                <span
                  key={slot.slot}
                  className="inline-flex items-center gap-1.5 whitespace-nowrap text-small"
                >
                  <Mark name={markOf(slot)} />
                  {slot.word}
                  <Kept slot={slot} />
                </span>
              ))}
            </span>
            {device.tries.refused > 0 && (
              <span className={`text-small ${device.tries.stop ? "font-semibold text-red" : ""}`}>
                {device.tries.stop ? "stop trying" : `${device.tries.refused} refused`}
              </span>
            )}
          </>
        )}
      </Alike>
      {found.length === 0 && <p className="py-3 text-ink-2">No device answers to “{typed}”.</p>}
    </>
  );
}

/** Every missing password in one press; what has to be told to other devices stands above once it is made. */
function MakeMissing({ data }: { data: Sheet }) {
  const missing = data.devices.flatMap((device) => device.slots).filter(isUnmade).length;
  const make = useChange((key, _: null) =>
    ask(client.POST("/api/sites/{key}/secrets/make", { params: { path: { key } }, body: { device: null } })),
  );
  const others = make.data?.told === 1 ? "1 other place" : `${make.data?.told} other places`;
  return (
    <>
      {missing > 0 && (
        <p className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1">
          <button type="button" className="btn" disabled={make.isPending} onClick={() => make.mutate(null)}>
            {make.isPending ? "Making them…" : `Make the ${missing} missing ones`}
          </button>
          <span className="text-small text-ink-2">
            Each by the rules of its device; it is shown when it is typed at the bench.
          </span>
        </p>
      )}
      {make.data && (
        <p role="status" className="mt-2 flex items-center gap-2">
          <Mark name="set" /> {make.data.made} made
          {make.data.told > 0 ? `; ${others} must be told, see above.` : "; no other device has to be told."}
        </p>
      )}
      {make.error && <Trouble error={make.error} />}
    </>
  );
}

/** What is shown of a slot; two devices that show the same stand in one line. */
function lookOf(slot: Schemas["SecretRow"]): unknown {
  return [slot.word, slot.version > 0, slot.weak, slot.same_as, slot.left_open];
}

/** Stopped and odd ones first, then what is missing, then the rest. */
function rankOf(device: Schemas["DeviceSecrets"]): number {
  if (device.tries.stop || device.slots.some((slot) => slot.weak || slot.same_as)) return 0;
  return device.slots.some(isUnmade) ? 1 : 2;
}

function markOf(slot: Schemas["SecretRow"]): MarkName {
  if (slot.weak || slot.same_as) return "off";
  if (slot.left_open) return "left";
  return slot.version ? "set" : "planned";
}

/** What is to be said of a slot beside its mark. */
function Kept({ slot }: { slot: Schemas["SecretRow"] }) {
  const said = [
    slot.weak && `soon guessed, used because: ${slot.weak}`,
    slot.same_as && `the same as that of ${slot.same_as}`,
    slot.left_open && `left open: ${slot.left_open}`,
  ].filter(Boolean);
  if (said.length === 0) return <span className="sr-only">{slot.version ? "saved" : "not saved"}</span>;
  return (
    <span className="max-w-md truncate text-ink-2" title={said.join("; ")}>
      ({said.join("; ")})
    </span>
  );
}

/** One password a device, or one a family: where practitioners disagree, the site decides. */
function PasswordPolicy({ data }: { data: Sheet }) {
  const choose = useChange((key, password_policy: Sheet["password_policy"]) =>
    ask(
      client.POST("/api/sites/{key}/secrets/policy", {
        params: { path: { key } },
        body: { revision: data.revision, password_policy },
      }),
    ),
  );
  const schools = [
    [
      "device",
      "One password per device",
      "A lost one opens one device. Recorders get logins of their own, with fewer rights.",
    ],
    [
      "family",
      "One password per family",
      "Recorders set theirs on the cameras they log in to first. It must suit every device that shares it.",
    ],
  ] as const;
  return (
    <Held right="decide" to="choose otherwise">
      <fieldset className="mt-2">
        <legend className="font-semibold">Administrator passwords</legend>
        <div className="flex flex-wrap gap-x-8 gap-y-1">
          {schools.map(([key, word, why]) => (
            <label key={key} className="flex max-w-md items-start gap-2 py-1">
              <input
                type="radio"
                name="school"
                className="mt-1.5"
                checked={(choose.isPending ? choose.variables : data.password_policy) === key}
                disabled={choose.isPending}
                onChange={() => choose.mutate(key)}
              />
              <span>
                {word}
                <span className="block text-small text-ink-2">{why}</span>
              </span>
            </label>
          ))}
        </div>
        {choose.error && <Trouble error={choose.error} />}
      </fieldset>
    </Held>
  );
}

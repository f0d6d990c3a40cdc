import { ask, client, type Schemas } from "../../api/client";
import { useChange } from "../../api/site";
import { Mark } from "../../parts/Mark";

type Sheet = Schemas["DevicePage"];

/** What the device's secrets must be, and how many tries are left before it locks. */
export function Slots({ data }: { data: Sheet }) {
  const count = useChange((key, taken: boolean) =>
    ask(
      client.POST("/api/sites/{key}/devices/{device}/tries", {
        params: { path: { key, device: data.key } },
        body: { taken },
      }),
    ),
  );
  if (data.slots.length === 0) return null;
  return (
    <section aria-label="What its passwords must be">
      <h2 className="border-b border-hair pb-1 font-semibold">What its passwords must be</h2>
      <ul className="text-small">
        {data.slots
          .filter((slot) => slot.kind !== "address")
          .map((slot) => (
            <li key={slot.slot} className="border-b border-hair py-1.5">
              <b>{slot.title}</b>: {slot.rule}.
              {slot.shared > 0 &&
                ` The same on ${slot.shared} other ${slot.shared === 1 ? "device" : "devices"}.`}
              {slot.conflicts.map((said) => (
                <span key={said} className="flex items-start gap-2 font-medium text-red">
                  <Mark name="broken" /> {said}
                </span>
              ))}
            </li>
          ))}
      </ul>
      <p
        className={`flex items-start gap-2 py-2 text-small ${data.tries.stop ? "font-semibold text-red" : ""}`}
      >
        {data.tries.refused > 0 && <Mark name={data.tries.stop ? "broken" : "off"} />} {data.tries.sentence}
      </p>
      <div className="flex flex-wrap gap-2">
        <button type="button" className="btn" disabled={count.isPending} onClick={() => count.mutate(false)}>
          It refused the password
        </button>
        {data.tries.refused > 0 && (
          <button type="button" className="btn" disabled={count.isPending} onClick={() => count.mutate(true)}>
            It took it
          </button>
        )}
      </div>
    </section>
  );
}

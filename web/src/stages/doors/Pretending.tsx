import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Refused, type Schemas } from "../../api/client";
import { useSiteKey } from "../../api/site";
import { Trouble } from "../../parts/Feedback";

const FAULTS: Record<Schemas["PretendTry"]["faults"][number], string> = {
  "relay-swapped": "relay wired the wrong way",
  "contact-swapped": "contact the wrong way",
  "exit-dead": "exit button dead",
  "reader-dead": "reader dead",
  "not-sent": "never sent",
  "fire-not-wired": "fire contact not wired",
};

/** The test made at the pretend door of a practice site, wired as it should be or wrongly. */
export function Pretending({
  door,
  test,
  played,
}: {
  door: string;
  test: string;
  played: (way: Schemas["CircuitRow"]) => void;
}) {
  const key = useSiteKey();
  const [fault, setFault] = useState("");
  const play = useMutation<Schemas["PretendSeen"], Refused, void>({
    mutationFn: () =>
      ask(
        client.POST("/api/sites/{key}/doors/{door}/pretend", {
          params: { path: { key, door } },
          body: { test, faults: fault ? [fault as keyof typeof FAULTS] : [] },
        }),
      ),
    onSuccess: (seen) => played(seen.circuit),
  });
  return (
    <div className="mb-3 flex flex-wrap items-center gap-3 border border-dashed border-field p-2 text-small">
      <b className="font-semibold">Pretend door</b>
      <label className="flex items-center gap-2">
        with
        <select className="box" value={fault} onChange={(event) => setFault(event.target.value)}>
          <option value="">nothing wrong</option>
          {Object.entries(FAULTS).map(([name, word]) => (
            <option key={name} value={name}>
              {word}
            </option>
          ))}
        </select>
      </label>
      <button type="button" className="btn" onClick={() => play.mutate()} disabled={play.isPending}>
        Do it there
      </button>
      {play.data && (
        <p aria-live="polite" className="font-semibold">
          Seen: {play.data.words}.{" "}
          {play.data.by_panel && (
            <span className="font-normal text-ink-2">Asked of the panel at the pretend site.</span>
          )}
        </p>
      )}
      {play.error && <Trouble error={play.error} />}
    </div>
  );
}

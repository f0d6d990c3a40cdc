import { type FormEvent, useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useChange } from "../../api/site";
import { useDraft } from "../../parts/drafts";
import { Trouble } from "../../parts/Feedback";
import { useRight, WhomToAsk } from "../../parts/Rights";

/** Leaving a check open takes a reason, and best a day on which that ends. */
export function LeftOpen({ cell }: { cell: Schemas["ProofRow"] }) {
  const mayDecide = useRight("decide");
  const [asking, setAsking] = useState(false);
  const [reason, setReason, clear] = useDraft(`left open ${cell.device} ${cell.check}`, "");
  const [until, setUntil] = useState("");
  const leave = useChange((key, body: Schemas["NewException"]) =>
    ask(
      client.PUT("/api/sites/{key}/devices/{device}/exception", {
        params: { path: { key, device: cell.device } },
        body,
      }),
    ),
  );
  const end = useChange((key, whole: boolean) =>
    ask(
      client.DELETE("/api/sites/{key}/devices/{device}/exception", {
        params: { path: { key, device: cell.device }, query: whole ? {} : { check: cell.check } },
      }),
    ),
  );
  function submit(event: FormEvent) {
    event.preventDefault();
    leave.mutate(
      { check: cell.check, reason, until: until || null },
      {
        onSuccess: () => {
          clear();
          setAsking(false);
        },
      },
    );
  }
  const error = leave.error ?? end.error;
  if (!mayDecide && cell.state !== "proven") return <WhomToAsk right="decide" to="leave it open" />;
  if (!mayDecide) return null;
  if (cell.left_open) {
    const { whole } = cell.left_open;
    return (
      <div>
        <button
          type="button"
          className="min-h-11 text-small font-semibold underline"
          disabled={end.isPending}
          onClick={() => end.mutate(whole)}
        >
          {whole ? "Let every check of the device count again" : "Let it count again"}
        </button>
        {error && <Trouble error={error} />}
      </div>
    );
  }
  return (
    <div className={asking ? "w-full" : ""}>
      {!asking && cell.state !== "proven" && (
        <button
          type="button"
          className="min-h-11 text-small font-semibold underline"
          onClick={() => setAsking(true)}
        >
          Leave it open
        </button>
      )}
      {asking && (
        <form onSubmit={submit} className="flex flex-wrap items-end gap-3">
          <label className="grid min-w-0 flex-1 basis-72 gap-1 text-small font-semibold">
            Why it is left open
            <input
              className="box font-normal"
              value={reason}
              maxLength={500}
              onChange={(event) => setReason(event.target.value)}
            />
          </label>
          <label className="grid gap-1 text-small font-semibold">
            Until, if it ends
            <input
              type="date"
              className="box font-normal"
              value={until}
              onChange={(event) => setUntil(event.target.value)}
            />
          </label>
          <button type="submit" className="btn" disabled={!reason.trim() || leave.isPending}>
            Leave it open
          </button>
          <button
            type="button"
            className="min-h-11 text-small font-semibold underline"
            onClick={() => setAsking(false)}
          >
            Back
          </button>
        </form>
      )}
      {error && <Trouble error={error} />}
    </div>
  );
}

import { type FormEvent, useEffect, useRef, useState } from "react";
import type { Refused } from "../api/client";
import { LargeDialog } from "./Dialog";
import { Mark } from "./Mark";
import type { Act } from "./NextBar";
import { type Kept, useSlot } from "./useSlot";
import type { Line } from "./useTicks";

/** Leaving a slot empty takes a reason; usually it is the same for the whole site. */
export function LeaveSlot({ secret, what, done }: { secret: Kept; what: string; done: () => void }) {
  const slot = useSlot(secret);
  const [reason, setReason] = useState("");
  const [everywhere, setEverywhere] = useState(true);
  const [fault, setFault] = useState("");
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => input.current?.focus(), []);
  function submit(event: FormEvent) {
    event.preventDefault();
    setFault("");
    slot
      .leave(reason, everywhere)
      .then(done)
      .catch((error: Refused) => setFault(error.message));
  }
  return (
    <form
      onSubmit={submit}
      className="mt-1 grid max-w-xl gap-2 font-normal"
      aria-label={`Leave ${what} open`}
    >
      <p className="text-small text-ink-2">
        Without it, whoever forgets the password can only reset the device by hand.
      </p>
      <label className="grid gap-1 text-small">
        Why it is left open
        <input
          ref={input}
          className="box"
          required
          maxLength={300}
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
      </label>
      <label className="flex items-center gap-2 text-small">
        <input
          type="checkbox"
          checked={everywhere}
          onChange={(event) => setEverywhere(event.target.checked)}
        />
        At every device of this site that has none
      </label>
      {fault && (
        <p role="alert" className="flex items-start gap-2 text-small font-medium text-red">
          <Mark name="broken" /> {fault}
        </p>
      )}
      <div className="flex flex-wrap gap-2">
        <button type="submit" className="btn btn-main" disabled={!reason.trim()}>
          Leave it open
        </button>
        <button type="button" className="btn" onClick={done}>
          Go back
        </button>
      </div>
    </form>
  );
}

/** What the one key does where the next value is a slot that somebody has to fill or to leave open first. */
export function useLeaving(value: Line | undefined) {
  const [leaving, setLeaving] = useState(false);
  const secret = value?.secret?.undecided ? value.secret : null;
  const close = () => setLeaving(false);
  const act: Act | undefined = secret
    ? { label: "Leave it open", key: " ", run: () => setLeaving(true) }
    : undefined;
  const dialog = leaving && value && secret && (
    <LargeDialog title={`Leave the ${value.label.toLowerCase()} open?`} close={close}>
      <LeaveSlot secret={secret} what={value.label} done={close} />
    </LargeDialog>
  );
  return { act, dialog };
}

import { type FormEvent, useEffect, useId, useRef, useState } from "react";
import type { Refused, Schemas } from "../api/client";
import { copyText } from "./CopyButton";
import { LeaveSlot } from "./LeaveSlot";
import { LineField } from "./LineField";
import { Mark } from "./Mark";
import { useRight } from "./Rights";
import { type Kept, type Shown, useSlot } from "./useSlot";

const SHOWN_FOR_S = 30;
const ONE_SHOWN = "tutelar-secret-shown";

/** A slot of a device: shown on demand and hidden again, copied, made, or typed. `what` names it for screen readers. */
export function SecretField({ secret, what }: { secret: Kept; what: string }) {
  const slot = useSlot(secret);
  const id = useId();
  const [shown, setShown] = useState<Shown | null>(null);
  const [typing, setTyping] = useState(false);
  const [leaving, setLeaving] = useState(false);
  const [busy, setBusy] = useState(false);
  const [said, setSaid] = useState("");
  const [fault, setFault] = useState("");
  const mayChange = useRight("work");
  const [why, setWhy] = useState<string | null>(null); // whoever changes nothing says why he looks
  useEffect(() => {
    if (!shown) return;
    const timer = setTimeout(() => setShown(null), SHOWN_FOR_S * 1000);
    return () => clearTimeout(timer);
  }, [shown]);
  useEffect(() => {
    const hide = () => setShown(null);
    const other = (event: Event) => (event as CustomEvent).detail !== id && hide();
    document.addEventListener("visibilitychange", hide);
    window.addEventListener(ONE_SHOWN, other);
    return () => {
      document.removeEventListener("visibilitychange", hide);
      window.removeEventListener(ONE_SHOWN, other);
    };
  }, [id]);

  async function act(work: () => Promise<void>) {
    setBusy(true);
    setFault("");
    await work().catch((error: Refused) => setFault(error.message));
    setBusy(false);
  }
  async function reveal() {
    setShown(await slot.reveal(why ?? ""));
    setWhy(null);
    window.dispatchEvent(new CustomEvent(ONE_SHOWN, { detail: id })); // one at a time: the others hide
  }
  const show = () => (mayChange || why !== null ? act(reveal) : setWhy(""));
  const copy = () =>
    act(async () => {
      setSaid((await copyText((await slot.reveal()).secret)) ? "Copied" : "Show it, and select it by hand");
      setTimeout(() => setSaid(""), 2000);
    });
  const make = () =>
    act(async () => {
      await slot.keep(null);
      await reveal();
    });
  const small = "min-h-11 px-2 text-small font-semibold underline underline-offset-4";
  return (
    <div className="min-w-0 font-sans tracking-normal">
      <div className="flex flex-wrap items-center gap-x-2">
        <span className="min-w-0 font-mono [overflow-wrap:anywhere]" data-secret={shown ? "shown" : "hidden"}>
          {shown
            ? shown.secret
            : secret.version
              ? "• • • • • •"
              : secret.left_open
                ? "left open"
                : "not saved yet"}
        </span>
        {secret.version > 0 && why === null && (
          <>
            <button
              type="button"
              className={small}
              disabled={busy}
              onClick={shown ? () => setShown(null) : show}
              aria-label={shown ? `Hide ${what}` : `Show ${what}`}
            >
              {shown ? "Hide" : "Show"}
            </button>
            {mayChange && (
              <button
                type="button"
                className={small}
                disabled={busy}
                onClick={copy}
                aria-label={`Copy ${what}`}
              >
                <span aria-live="polite">{said || "Copy"}</span>
              </button>
            )}
          </>
        )}
        {mayChange && !typing && secret.version === 0 && secret.makeable && (
          <button type="button" className="btn" disabled={busy} onClick={make} aria-label={`Make ${what}`}>
            Make one
          </button>
        )}
        {mayChange && !typing && (
          <button
            type="button"
            className={small}
            onClick={() => setTyping(true)}
            aria-label={`${secret.version ? "Change" : "Type"} ${what}`}
          >
            {secret.version ? "Change" : "Type one"}
          </button>
        )}
        {mayChange && !typing && !leaving && secret.undecided && (
          <button
            type="button"
            className={small}
            onClick={() => setLeaving(true)}
            aria-label={`Leave ${what} open`}
          >
            Leave it open
          </button>
        )}
      </div>
      {why !== null && (
        <form
          className="flex flex-wrap items-end gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            show();
          }}
        >
          <LineField
            label={`why you look at ${what.toLowerCase()}`}
            value={why}
            set={setWhy}
            most={300}
            look="flex-1 basis-56"
          />
          <button type="submit" className="btn" disabled={busy || !why.trim()}>
            Show it
          </button>
        </form>
      )}
      <Doubts secret={secret} />
      {shown?.presses && <Presses presses={shown.presses} />}
      {fault && (
        <p role="alert" className="flex items-start gap-2 text-small font-medium text-red">
          <Mark name="broken" /> {fault}
        </p>
      )}
      {typing && <TypeOne secret={secret} what={what} done={() => setTyping(false)} />}
      {leaving && secret.undecided && (
        <LeaveSlot secret={secret} what={what} done={() => setLeaving(false)} />
      )}
    </div>
  );
}

/** A secret that a person types: judged while typing, kept only where it fits. It is no draft: it is not stored here. */
function TypeOne({ secret, what, done }: { secret: Kept; what: string; done: () => void }) {
  const slot = useSlot(secret);
  const [text, setText] = useState("");
  const [plain, setPlain] = useState(true);
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => input.current?.focus(), []);
  const [judged, setJudged] = useState<Schemas["Judged"] | null>(null);
  const [fault, setFault] = useState("");
  const [reason, setReason] = useState("");
  const { check } = slot;
  // biome-ignore lint/correctness/useExhaustiveDependencies: judged anew for every text, not for every render
  useEffect(() => {
    if (!text) return setJudged(null);
    let late = false;
    const timer = setTimeout(() => {
      check(text)
        .then((found) => !late && setJudged(found))
        .catch((error: Refused) => !late && setFault(error.message));
    }, 200);
    return () => {
      late = true;
      clearTimeout(timer);
    };
  }, [text]);
  function submit(event: FormEvent) {
    event.preventDefault();
    setFault("");
    slot
      .keep(text, weak ? reason : "")
      .then(done)
      .catch((error: Refused) => setFault(error.message));
  }
  const make = () =>
    slot
      .keep(null)
      .then(done)
      .catch((error: Refused) => setFault(error.message));
  const wrong = judged?.fails[0];
  const weak = judged?.weak && !wrong;
  return (
    <form
      onSubmit={submit}
      className="mt-1 grid max-w-xl gap-2 border-l-4 border-brass-fill pl-3 font-normal"
      aria-label={what}
    >
      {secret.version > 0 && (
        <p className="text-small">
          Every device that has the old one typed in is listed afterwards, and stays open until you tick it.
        </p>
      )}
      <label className="grid gap-1 text-small">
        New {what.toLowerCase()}
        <span className="flex flex-wrap gap-2">
          <input
            ref={input}
            className="box min-w-0 flex-1 font-mono"
            type={plain ? "text" : "password"}
            autoComplete="off"
            autoCapitalize="off"
            spellCheck={false}
            maxLength={300}
            value={text}
            aria-invalid={wrong ? true : undefined}
            onChange={(event) => setText(event.target.value)}
          />
          <button type="button" className="btn" onClick={() => setPlain(!plain)}>
            {plain ? "Cover it" : "Uncover it"}
          </button>
        </span>
      </label>
      <p
        aria-live="polite"
        className={`min-h-5 text-small ${wrong || fault ? "font-medium text-red" : "text-ink-2"}`}
      >
        {fault || wrong || [judged?.strength, ...(judged?.helps ?? [])].filter(Boolean).join(" ")}
      </p>
      {weak && (
        <label className="grid gap-1 text-small">
          Why this one is used all the same
          <input
            className="box"
            required
            maxLength={300}
            value={reason}
            onChange={(event) => setReason(event.target.value)}
          />
          <span className="text-ink-2">The reason stands in the log, with your name.</span>
        </label>
      )}
      <div className="flex flex-wrap gap-2">
        <button
          type="submit"
          className="btn btn-main"
          disabled={!text || !!wrong || (weak && !reason.trim())}
        >
          Save
        </button>
        {secret.makeable && (
          <button type="button" className="btn" onClick={make}>
            Make one
          </button>
        )}
        <button type="button" className="btn" onClick={done}>
          Leave it
        </button>
      </div>
    </form>
  );
}

/** What speaks against a secret that is kept, and why one is left open. */
function Doubts({ secret }: { secret: Kept }) {
  const said = [
    secret.weak && `Would be guessed within a day; used because: ${secret.weak}`,
    secret.same_as && `The same as that of ${secret.same_as}; each device is to have its own.`,
    secret.left_open && `Because: ${secret.left_open}`,
  ].filter(Boolean);
  return said.map((sentence) => (
    <p key={sentence} className="flex items-start gap-2 text-small font-normal">
      <Mark name={secret.left_open ? "left" : "off"} /> {sentence}
    </p>
  ));
}

/** How it is typed on telephone-style keys, key by key. */
function Presses({ presses }: { presses: Schemas["Press"][] }) {
  return (
    <ol aria-label="Key presses on the desk" className="flex flex-wrap gap-x-2 gap-y-1 py-1 text-small">
      {presses.map((press, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the same press may come several times
        <li key={at} className="border border-hair px-1.5">
          <span className="text-ink-2">{press.character} </span>
          <b className="font-mono">{press.key}</b>
          {press.times > 1 && <span> × {press.times}</span>}
        </li>
      ))}
    </ol>
  );
}

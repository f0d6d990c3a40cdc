import { type ReactNode, useState } from "react";
import { useDraft } from "./drafts";
import { Trouble } from "./Feedback";

/** "Seen" or "Failed" of what somebody stands in front of; a failure needs the words of what was seen instead. */
export function Witness({
  name,
  draft,
  pending,
  error,
  keep,
  children,
  ready = true,
  big = false,
}: {
  /** What is witnessed, for who hears the page. */
  name: string;
  /** Where words that are not kept yet wait. */
  draft: string;
  pending: boolean;
  error: Error | null;
  keep: (result: "pass" | "fail", words: string, done: () => void) => void;
  /** What else has to be filled in, until it is `ready`. */
  children?: ReactNode;
  ready?: boolean;
  big?: boolean;
}) {
  const [failing, setFailing] = useState(false);
  const [words, setWords, clear] = useDraft(draft, "");
  const size = big ? "btn justify-center max-md:min-h-14 max-md:flex-1" : "btn";
  function send(result: "pass" | "fail") {
    keep(result, words, () => {
      clear();
      setFailing(false);
    });
  }
  return (
    <form
      className="grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (failing && words.trim() && ready) send("fail");
      }}
    >
      {children}
      {failing && (
        <label className="grid max-w-96 gap-1 text-small font-semibold">
          What was seen instead
          <input
            className="box font-normal"
            value={words}
            maxLength={500}
            readOnly={pending}
            onChange={(event) => setWords(event.target.value)}
          />
        </label>
      )}
      <div className="flex gap-2">
        {failing ? (
          <>
            <button type="submit" className={size} disabled={!words.trim() || !ready || pending}>
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
              disabled={!ready || pending}
              aria-label={`${name}: seen`}
              onClick={() => send("pass")}
            >
              Seen
            </button>
            <button
              type="button"
              className="btn"
              aria-label={`${name}: failed`}
              onClick={() => setFailing(true)}
            >
              Failed
            </button>
          </>
        )}
      </div>
      {error && <Trouble error={error} />}
    </form>
  );
}

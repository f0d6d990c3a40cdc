import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { type FormEvent, useState } from "react";
import type { Word } from "./useRecord";

const USUAL = [
  "It does not answer",
  "It does not accept the values",
  "It is not in the box",
  "Done later on site",
];
const NEXT: { label: string; hint: string; word: (reason: string) => Word; device?: boolean }[] = [
  {
    label: "Try once more",
    hint: "The same step, from now.",
    word: (reason) => ({ state: "failed", after: "retry", reason }),
  },
  {
    label: "Factory reset",
    hint: "It boots again, then its first login is done again. Once is enough.",
    word: (reason) => ({ state: "failed", after: "reset", reason }),
    device: true,
  },
  {
    label: "Set it aside",
    hint: "Unplug it; the run goes on without it until you take it up again.",
    word: (reason) => ({ state: "failed", after: "aside", reason }),
    device: true,
  },
  { label: "Leave it out", hint: "Only this step.", word: (reason) => ({ state: "skipped", reason }) },
];

/** What is wrong with a step, and what comes next: a reason is always kept. */
export function ProblemDialog({
  title,
  device,
  longer,
  open,
  close,
  say,
}: {
  title: string;
  device: boolean;
  longer: ((seconds: number) => void) | undefined;
  open: boolean;
  close: () => void;
  say: (word: Word) => void;
}) {
  const [reason, setReason] = useState("");
  const why = reason.trim();
  function submit(event: FormEvent) {
    event.preventDefault();
    if (why && NEXT[0]) say(NEXT[0].word(why));
  }
  return (
    <Dialog open={open} onClose={close} className="relative z-30">
      <div className="fixed inset-0 bg-ink/30" aria-hidden="true" />
      <div className="fixed inset-0 grid place-items-center overflow-auto p-4">
        <DialogPanel className="slip w-full max-w-xl">
          <DialogTitle className="text-lead font-semibold">It does not go: {title}</DialogTitle>
          {longer && (
            <p className="mt-3 flex flex-wrap items-center gap-2">
              It only needs longer:
              {[60, 180].map((seconds) => (
                <button
                  key={seconds}
                  type="button"
                  className="btn text-small"
                  onClick={() => longer(seconds)}
                >
                  wait {seconds / 60} min more
                </button>
              ))}
            </p>
          )}
          <form onSubmit={submit} className="mt-4 grid gap-3">
            <div className="flex flex-wrap gap-2">
              {USUAL.map((usual) => (
                <button key={usual} type="button" className="btn text-small" onClick={() => setReason(usual)}>
                  {usual}
                </button>
              ))}
            </div>
            <label className="grid gap-1 font-semibold">
              Why
              <input
                autoFocus
                required
                maxLength={500}
                className="box font-normal"
                value={reason}
                onChange={(event) => setReason(event.target.value)}
              />
            </label>
            <ul className="border-t border-hair">
              {NEXT.filter((item) => device || !item.device).map((item) => (
                <li key={item.label} className="flex items-center gap-4 border-b border-hair py-1.5">
                  <button
                    type="button"
                    className="btn w-40 shrink-0"
                    disabled={!why}
                    onClick={() => say(item.word(why))}
                  >
                    {item.label}
                  </button>
                  <span className="text-small text-ink-2">{item.hint}</span>
                </li>
              ))}
            </ul>
            <button type="button" className="btn justify-self-start" onClick={close}>
              Go on with it
            </button>
          </form>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

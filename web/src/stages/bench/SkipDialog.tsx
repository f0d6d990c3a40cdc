import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { type FormEvent, useState } from "react";

const USUAL = ["It does not answer", "It refuses the values", "It is not in the box", "Done later on site"];

/** Why a step is left out: a reason is always kept. */
export function SkipDialog({
  title,
  open,
  close,
  skip,
}: {
  title: string;
  open: boolean;
  close: () => void;
  skip: (reason: string) => void;
}) {
  const [reason, setReason] = useState("");
  function submit(event: FormEvent) {
    event.preventDefault();
    if (reason.trim()) skip(reason.trim());
  }
  return (
    <Dialog open={open} onClose={close} className="relative z-30">
      <div className="fixed inset-0 bg-ink/30" aria-hidden="true" />
      <div className="fixed inset-0 grid place-items-center p-4">
        <DialogPanel className="slip w-full max-w-lg">
          <DialogTitle className="text-lead font-semibold">Leave this step out: {title}</DialogTitle>
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
            <div className="flex gap-3">
              <button type="submit" className="btn btn-main" disabled={!reason.trim()}>
                Leave it out
              </button>
              <button type="button" className="btn" onClick={close}>
                Go on with it
              </button>
            </div>
          </form>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

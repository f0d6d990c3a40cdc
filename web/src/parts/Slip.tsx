import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import type { ReactNode } from "react";

/** A large slip over the page, for work that needs room; Esc closes it. */
export function LargeSlip({
  title,
  close,
  children,
  wide = false,
}: {
  title: string;
  close: () => void;
  children: ReactNode;
  wide?: boolean;
}) {
  return (
    <Dialog open onClose={close} className="relative z-30">
      <div className="fixed inset-0 bg-ink/30" aria-hidden="true" />
      <div className="fixed inset-0 overflow-y-auto">
        <div className="grid min-h-full place-items-center p-2 md:p-6">
          <DialogPanel className={`slip w-full max-md:p-3 ${wide ? "max-w-6xl" : "max-w-2xl"}`}>
            <div className="flex items-start justify-between gap-4">
              <DialogTitle className="text-lead font-semibold">{title}</DialogTitle>
              <button type="button" className="btn" onClick={close}>
                Close
              </button>
            </div>
            {children}
          </DialogPanel>
        </div>
      </div>
    </Dialog>
  );
}

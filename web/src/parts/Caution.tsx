import type { ReactNode } from "react";

/** A caution where the work happens, once and short; it defers to local codes and licensed people. */
export function Caution({ children }: { children: ReactNode }) {
  return (
    <p className="border-l-4 border-brass-fill px-3 text-small">
      <b>Caution.</b> {children}
    </p>
  );
}

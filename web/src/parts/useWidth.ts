import { useSyncExternalStore } from "react";

function listen(listener: () => void) {
  window.addEventListener("resize", listener);
  return () => window.removeEventListener("resize", listener);
}

/** The width of the window in pixels. */
export function useWidth(): number {
  return useSyncExternalStore(listen, () => window.innerWidth);
}

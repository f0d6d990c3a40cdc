import { type ReactNode, useState } from "react";

/** The first rows of a long list, and the button that shows all of them (nothing where these are all). */
export function useTruncated<T>(rows: T[], most = 60): [T[], ReactNode] {
  const [all, setAll] = useState(false);
  if (all || rows.length <= most) return [rows, null];
  const more = (
    <button type="button" className="btn mt-3" onClick={() => setAll(true)}>
      Show all {rows.length}
    </button>
  );
  return [rows.slice(0, most), more];
}

import type { ReactNode } from "react";
import { Refused } from "../api/client";
import { Mark } from "./Mark";

/** While something is fetched: says what. */
export function Loading({ what }: { what: string }) {
  return (
    <p role="status" className="flex items-center gap-3 p-6 text-body text-ink-2">
      <Mark name="busy" /> Fetching {what} …
    </p>
  );
}

/** A whole page that is on its way. */
export function LoadingPage({ what }: { what: string }) {
  return (
    <main>
      <h1 className="sr-only">Tutelar</h1>
      <Loading what={what} />
    </main>
  );
}

/** What went wrong, in the server's own words, with each fault and where it stands. */
export function Trouble({ error, retry }: { error: Error; retry?: () => void }) {
  const faults =
    error instanceof Refused ? error.faults.filter((fault) => fault.message !== error.message) : [];
  return (
    <div role="alert" className="border-l-4 border-red bg-red-wash px-4 py-3">
      <p className="flex items-start gap-2 font-semibold">
        <span className="mt-1">
          <Mark name="broken" />
        </span>
        {error.message}
      </p>
      {faults.length > 0 && (
        <ul className="mt-2 max-h-64 space-y-1 overflow-auto text-list">
          {faults.slice(0, 50).map((fault) => (
            <li key={`${fault.path} ${fault.message}`}>
              {fault.path && <span className="mr-2 font-mono text-small">{fault.path}</span>}
              {fault.message}
            </li>
          ))}
          {faults.length > 50 && <li>and {faults.length - 50} more.</li>}
        </ul>
      )}
      {retry && (
        <button type="button" className="btn mt-3" onClick={retry}>
          Try again
        </button>
      )}
    </div>
  );
}

/** Nothing here yet, and what to do about it. */
export function Empty({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="mx-auto max-w-xl py-16 text-center">
      <h2 className="text-lead font-semibold">{title}</h2>
      <p className="mt-2 text-ink-2">{children}</p>
    </div>
  );
}

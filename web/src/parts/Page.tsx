import { type ReactNode, useDeferredValue, useState } from "react";
import type { Schemas } from "../api/client";
import { Loading, Trouble } from "./Feedback";
import { Mark } from "./Mark";

type Fetched<T> = { data?: T | undefined; error: Error | null; isPending: boolean; refetch: () => unknown };

/** The sheet of a stage: loading, in trouble, or there. The next thing below it is drawn before the sheet itself. */
export function Page<T>({
  title,
  fetched,
  children,
  aside,
}: {
  title: string;
  fetched: Fetched<T>;
  children: (data: T) => ReactNode;
  aside?: ReactNode;
}) {
  const ready = useDeferredValue(fetched.data !== undefined, false);
  return (
    <main
      aria-busy={!ready && !fetched.error}
      className="relative min-h-0 flex-1 overflow-auto px-4 pt-3 pb-6 md:px-6"
    >
      <div className="flex flex-wrap items-center gap-x-6 gap-y-1">
        <h1 className="text-title font-bold tracking-tight">{title}</h1>
        {aside}
      </div>
      {fetched.isPending && <Loading what={`the ${title.toLowerCase()}`} />}
      {fetched.error && <Trouble error={fetched.error} retry={() => fetched.refetch()} />}
      {fetched.data && ready && children(fetched.data)}
    </main>
  );
}

const LEVELS = { error: "broken", warning: "off", note: "unread" } as const;

const FIRST_PROBLEMS = 30; // more would bury the page below them

/** Problems as sentences, each with its fix in words. `act` gives a one-press fix for those that have one. */
export function Problems({
  problems,
  act,
}: {
  problems: Schemas["ProblemRow"][];
  act?: (problem: Schemas["ProblemRow"]) => ReactNode;
}) {
  const [whole, setWhole] = useState(false);
  if (problems.length === 0) return null;
  const shown = whole ? problems : problems.slice(0, FIRST_PROBLEMS);
  return (
    <ul className="border-t-2 border-red" aria-label="Problems">
      {shown.map((problem) => (
        <li
          key={`${problem.code} ${problem.message}`}
          className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-hair py-2"
        >
          <span className="flex w-28 shrink-0 items-center gap-2 font-semibold">
            <Mark name={problem.code === "address.duplicate" ? "clash" : LEVELS[problem.level]} />
            {problem.level}
          </span>
          <span className="min-w-0 flex-1 basis-72">
            {problem.message}{" "}
            {!act?.(problem) && problem.fix && <span className="text-ink-2">{problem.fix}</span>}
          </span>
          {act?.(problem)}
        </li>
      ))}
      {shown.length < problems.length && (
        <li className="border-b border-hair">
          <button
            type="button"
            className="min-h-11 underline underline-offset-4"
            onClick={() => setWhole(true)}
          >
            Show all {problems.length}
          </button>
        </li>
      )}
    </ul>
  );
}

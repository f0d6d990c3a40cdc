import type { Schemas } from "../../api/client";
import { Mark } from "../../parts/Mark";

const MARKS = { good: "set", note: "unread", warning: "off", error: "broken" } as const;
const WORDS = { good: "in order", note: "note", warning: "mind", error: "does not work" } as const;

/** What follows from an answer, each consequence with its mark and what could be done. */
export function Follows({ follows, large = false }: { follows: Schemas["FollowRow"][]; large?: boolean }) {
  return (
    <ul className={large ? "grid gap-3" : "grid gap-1.5 text-list"} aria-live={large ? "polite" : undefined}>
      {follows.map((follow) => (
        <li key={follow.message} className="flex gap-2">
          <span className="mt-0.5 shrink-0">
            <Mark name={MARKS[follow.level]} word={WORDS[follow.level]} />
          </span>
          <span className="min-w-0">
            <span
              className={
                large && follow.level === "error"
                  ? "font-semibold text-red"
                  : follow.level === "good"
                    ? ""
                    : "font-medium"
              }
            >
              {follow.message}
            </span>{" "}
            {follow.fix && <span className="text-ink-2">{follow.fix}</span>}
          </span>
        </li>
      ))}
    </ul>
  );
}

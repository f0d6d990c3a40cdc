import { ask, client, type Refused } from "../../api/client";
import { useChange } from "../../api/site";

type Part = Record<string, unknown>;
export type Kind = "people" | "rules" | "frames" | "holidays" | "formats" | "doors" | "hubs";
export type ItemChange = { kind: Kind; item: string; was: Part | null; now: Part | null };

/** Change one person, rule, frame, holiday, door or hub; null: it was not there, or it goes. */
export function useItem() {
  return useChange<ItemChange, unknown>((key, { kind, item, was, now }) =>
    ask(
      client.PUT("/api/sites/{key}/access/{kind}/{item}", {
        params: { path: { key, kind, item } },
        body: { was, now },
      }),
    ),
  );
}

export type { Refused };

/** The part without what was left empty. */
export function tidy(part: Part): Part {
  return Object.fromEntries(
    Object.entries(part).filter(([, value]) => value !== null && value !== "" && value !== undefined),
  );
}

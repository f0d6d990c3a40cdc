const DAY = { dateStyle: "medium" } as const;
const MOMENT = { dateStyle: "medium", timeStyle: "short" } as const;

/** A day as people write it. */
export const dayOf = (at: string) => new Date(at).toLocaleDateString("en-GB", DAY);

/** A day with its hour and minute. */
export const momentOf = (at: string) => new Date(at).toLocaleString("en-GB", MOMENT);

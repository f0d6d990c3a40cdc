import type { ReactNode } from "react";
import { useSession } from "../api/site";

/** Who has a right besides oneself, in words. */
const WHO: Record<string, string> = {
  work: "an owner, a lead or a technician",
  decide: "an owner or a lead",
  leading: "an owner or a lead",
  people: "an owner",
};

const WHOSE: Record<string, string> = {
  owner: "an owner's",
  lead: "a lead's",
  technician: "a technician's",
  trainee: "a trainee's",
  support: "the support desk's",
};

/** Whether the account has a right; it is asked for by the server in any case. */
export function useRight(right: string): boolean {
  return useSession().data?.rights?.includes(right) ?? false;
}

type Part = { right: string; to: string; children: ReactNode };

/** What only a right lets one do; who has not got it reads whom to ask. `to` says what for: "sign it off". */
export function Only({ right, to, children }: Part) {
  return useRight(right) ? children : <WhomToAsk right={right} to={to} />;
}

/** What everybody may look at, and only a right lets one change. */
export function Held({ right, to, children }: Part) {
  const may = useRight(right);
  return (
    <fieldset disabled={!may} className="contents">
      {!may && <WhomToAsk right={right} to={to} />}
      {children}
    </fieldset>
  );
}

/** Who has a right that the account has not. */
export function WhomToAsk({ right, to }: Omit<Part, "children">) {
  const role = useSession().data?.role;
  return (
    <p className="py-2 text-small text-ink-2">
      To {to}, ask {WHO[right]}; your account is {role ? WHOSE[role] : "without a role"}.
    </p>
  );
}

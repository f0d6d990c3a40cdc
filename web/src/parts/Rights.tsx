import type { ReactNode } from "react";
import { useSession } from "../api/site";

/** Who has a right besides oneself, in words. */
const WHO: Record<string, string> = {
  work: "an owner, a lead or a technician",
  decide: "an owner or a lead",
  leading: "an owner or a lead",
  people: "an owner",
};

/** Whether the account has a right; it is asked for by the server in any case. */
export function useRight(right: string): boolean {
  return useSession().data?.rights?.includes(right) ?? false;
}

/** What only a right lets one do; who has not got it reads whom to ask. `to` says what for: "sign it off". */
export function Only({ right, to, children }: { right: string; to: string; children: ReactNode }) {
  const role = useSession().data?.role;
  if (useRight(right)) return children;
  return (
    <p className="py-2 text-small text-ink-2">
      To {to}, ask {WHO[right]}; your account is that of {role ? `a ${role}` : "somebody without a role"}.
    </p>
  );
}

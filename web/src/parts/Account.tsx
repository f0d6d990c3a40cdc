import { lazy, Suspense } from "react";
import { useSession } from "../api/site";
import { later } from "./later";

const Menu = lazy(() => later(() => import("./AccountMenu")).then((part) => ({ default: part.AccountMenu })));

/** Who is signed in; behind the name the theme, single keys, and the way out. */
export function Account() {
  const user = useSession().data?.user;
  if (!user) return null;
  return (
    <Suspense
      fallback={
        <span className={NAME}>
          <UserName user={user} />
        </span>
      }
    >
      <Menu user={user} />
    </Suspense>
  );
}

export const NAME = "flex min-h-11 items-center gap-1.5 self-center px-2 text-list font-medium";

export function UserName({ user }: { user: string }) {
  return (
    <>
      <span className="max-w-28 truncate max-md:sr-only" title={`Signed in as ${user}`}>
        {user}
      </span>
      <span aria-hidden="true" className="text-ink-2 max-md:hidden">
        ▾
      </span>
      <span
        aria-hidden="true"
        className="grid size-7 place-items-center border border-field font-semibold uppercase md:hidden"
      >
        {user.slice(0, 1)}
      </span>
    </>
  );
}

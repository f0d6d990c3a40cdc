import type { ReactNode } from "react";
import { Link } from "react-router";
import { Account } from "./Account";

/** The head of a page that is about no single site: its title, the way back to the sites, what else it does. */
export function TopHead({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <header className="flex flex-wrap items-end justify-between gap-4">
      <div>
        <Link to="/" className="text-cell font-semibold text-kelp no-underline">
          Tutelar
        </Link>
        <h1 className="text-title font-bold">{title}</h1>
      </div>
      <div className="flex flex-wrap gap-2">
        <Link to="/" className="btn text-ink no-underline">
          Sites
        </Link>
        {children}
        <Account />
      </div>
    </header>
  );
}

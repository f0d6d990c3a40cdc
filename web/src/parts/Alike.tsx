import type { ReactNode } from "react";
import { Link } from "react-router";
import { useSiteKey } from "../api/site";
import { useTruncated } from "./useTruncated";

type Row = { key: string; name: string; model: string };

/** Devices of one model that show the same are one line, opened to see each; what is open or odd stands first. */
export function Alike<T extends Row>({
  label,
  rows,
  sign,
  rank,
  apart = false,
  children,
}: {
  label: string;
  rows: T[];
  /** What a line shows, as one text: the same text is the same line. */
  sign: (row: T) => string;
  /** Smaller stands earlier. */
  rank: (row: T) => number;
  /** Each device for itself, as somebody who searches wants them. */
  apart?: boolean;
  children: (row: T) => ReactNode;
}) {
  const groups = new Map<string, T[]>();
  for (const row of rows) {
    const key = apart ? row.key : JSON.stringify([row.model, sign(row)]);
    groups.set(key, [...(groups.get(key) ?? []), row]);
  }
  const order = [...groups.values()].sort(
    (one, other) => rank(one[0] as T) - rank(other[0] as T) || one.length - other.length,
  );
  const [shown, more] = useTruncated(order);
  return (
    <>
      <ul aria-label={label}>
        {shown.map((group) => {
          const first = group[0] as T;
          return (
            <li key={first.key} className="border-b border-hair py-1 text-list">
              {group.length === 1 ? (
                <div className="flex flex-wrap items-center gap-x-4">
                  <Name row={first} />
                  {children(first)}
                </div>
              ) : (
                <details>
                  <summary className="flex min-h-11 cursor-pointer flex-wrap items-center gap-x-4">
                    <span className="w-64 font-semibold max-md:w-full">
                      {group.length} × {first.model}
                    </span>
                    {children(first)}
                  </summary>
                  <ul className="columns-2 gap-x-6 pb-2 pl-4 max-md:columns-1 lg:columns-4">
                    {group.map((row) => (
                      <li key={row.key}>
                        <Name row={row} />
                      </li>
                    ))}
                  </ul>
                </details>
              )}
            </li>
          );
        })}
      </ul>
      {more}
    </>
  );
}

function Name({ row }: { row: Row }) {
  const site = useSiteKey();
  return (
    <Link
      to={`/sites/${site}/devices/${row.key}`}
      className="inline-flex min-h-9 max-md:min-h-11 w-64 items-center truncate font-semibold max-md:w-full"
      title={row.name}
    >
      <span className="truncate">{row.name}</span>
    </Link>
  );
}

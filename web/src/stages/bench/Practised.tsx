import type { Schemas } from "../../api/client";
import { Trouble } from "../../parts/Feedback";
import { Handles, standing, useHandle } from "../../parts/Pretend";

/** The device in hand at the pretend site, so that the step can be practised on its page. */
export function Practised({ row }: { row: Schemas["PretendRow"] }) {
  const handle = useHandle();
  return (
    <section className="mt-3 border border-hair px-4 py-2 text-small" aria-label="At the pretend site">
      <h3 className="font-semibold">At the pretend site: {standing(row)}</h3>
      {handle.error && <Trouble error={handle.error} />}
      {row.page && (
        <p className="pt-1">
          <a href={row.page} target="_blank" rel="noreferrer" className="font-mono break-all">
            {row.page}
          </a>
        </p>
      )}
      {row.page && (
        <p className="text-ink-2">
          User <span className="font-mono text-ink">{row.user}</span>, made-up password{" "}
          <span className="font-mono text-ink">{row.password}</span>
        </p>
      )}
      <p>
        <Handles row={row} handle={handle} />
      </p>
    </section>
  );
}

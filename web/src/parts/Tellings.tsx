import { Link } from "react-router";
import { ask, client, type Schemas } from "../api/client";
import { useChange, useSiteKey } from "../api/site";
import { Trouble } from "./Feedback";
import { Mark } from "./Mark";
import { useTruncated } from "./useTruncated";

/** Devices that have a changed password or port typed in: each stays open until somebody has typed the new one. */
export function Tellings({ tellings }: { tellings: Schemas["TellingRow"][] }) {
  const site = useSiteKey();
  const [shown, more] = useTruncated(tellings, 20);
  const tell = useChange((key, numbers: number[]) =>
    ask(client.POST("/api/sites/{key}/tellings", { params: { path: { key } }, body: { tellings: numbers } })),
  );
  if (tellings.length === 0) return null;
  return (
    <section aria-label="To be told" className="mt-4 border-t-2 border-brass-fill">
      <h2 className="flex items-center gap-2 pt-2 font-semibold">
        <Mark name="off" /> Changed, and still to be typed elsewhere: {tellings.length}
      </h2>
      {tell.error && <Trouble error={tell.error} />}
      <ul>
        {shown.map((item) => (
          <li key={item.id} className="flex flex-wrap items-center gap-x-4 border-b border-hair py-1">
            <Link
              to={`/sites/${site}/devices/${item.device}`}
              className="w-52 truncate font-semibold max-md:w-full"
            >
              {item.name}
            </Link>
            <span className="min-w-0 flex-1 basis-72">{item.sentence}</span>
            <button
              type="button"
              className="btn"
              disabled={tell.isPending}
              aria-label={`Typed there: ${item.sentence}`}
              onClick={() => tell.mutate([item.id])}
            >
              Typed there
            </button>
          </li>
        ))}
      </ul>
      {more}
    </section>
  );
}

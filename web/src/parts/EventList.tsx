import type { Schemas } from "../api/client";
import { momentOf } from "./dates";

/** Lines of the log: when, what, by whom. */
export function EventList({ events }: { events: Schemas["EventRow"][] }) {
  return (
    <ol className="mt-2">
      {events.map((event) => (
        <li key={event.id} className="flex flex-wrap gap-x-4 border-b border-hair py-1.5 text-list">
          <time dateTime={event.at} className="w-40 shrink-0 text-ink-2">
            {momentOf(event.at)}
          </time>
          <span className="min-w-0 flex-1 basis-64 [overflow-wrap:anywhere]">{event.sentence}</span>
          <span className="text-ink-2">{event.by}</span>
        </li>
      ))}
    </ol>
  );
}

import { State } from "../../parts/Mark";
import { useTruncated } from "../../parts/useTruncated";
import type { Beam } from "./loom";
import { STATES, seatWord, stateWord } from "./words";

/** The links one below the other, where there is no room for the loom. */
export function ThreadList({
  beams,
  selected,
  select,
}: {
  beams: Beam[];
  selected: number | null;
  select: (id: number) => void;
}) {
  const [shown, more] = useTruncated(
    beams.flatMap((beam) => beam.threads.map((thread) => ({ beam, thread }))),
    80,
  );
  return (
    <div className="pt-2">
      <ul className="border-t-2 border-ink">
        {shown.map(({ beam, thread }) => (
          <li key={thread.id} className="border-b border-hair">
            <button
              type="button"
              aria-pressed={thread.id === selected}
              className={`w-full py-2 ${thread.id === selected ? "bg-wash px-2" : ""}`}
              onClick={() => select(thread.id)}
            >
              <span className="flex items-start justify-between gap-3">
                <span className="min-w-0 font-semibold break-words">
                  {thread.start_name}
                  {thread.from_channel !== null && ` (${thread.from_channel})`}
                </span>
                <span className="text-small">
                  <State name={STATES[thread.state].mark}>{stateWord(thread)}</State>
                </span>
              </span>
              <span className="block text-small text-ink-2">
                {[seatWord(beam.word, thread.slot), beam.name].filter(Boolean).join(" of ")}
              </span>
              {thread.reason && <span className="block text-small text-brass">{thread.reason}</span>}
            </button>
          </li>
        ))}
      </ul>
      {more}
    </div>
  );
}

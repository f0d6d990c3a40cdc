import type { Lane } from "./lane";

const LOOKS = {
  done: "bg-kelp-wash text-kelp",
  now: "bg-kelp text-on-fill",
  next: "border-2 border-dashed border-field text-slate",
};

/** The run around now: hands above, what runs by itself below. */
export function RunLane({ lane }: { lane: Lane }) {
  return (
    <div className="flex" aria-hidden="true">
      <div className="w-26 shrink-0 pr-3 text-right text-small font-semibold max-sm:w-20">
        <p className="mt-5 leading-10">Your hands</p>
        <p className="text-note font-normal text-ink-2">by itself</p>
      </div>
      <div className="relative min-w-0 flex-1 overflow-hidden">
        <div className="relative h-5">
          {lane.marks
            .filter((mark) => mark.left < 94)
            .map((mark) => (
              <span
                key={mark.label}
                className="absolute font-mono text-cell whitespace-nowrap text-ink-2"
                style={{ left: `${mark.left}%` }}
              >
                {mark.label}
              </span>
            ))}
        </div>
        <div className="relative h-10">
          {lane.blocks.map((block) => (
            <span
              key={block.id}
              className={`absolute inset-y-0 overflow-hidden border-r-2 border-r-paper px-1.5 text-note leading-10 font-semibold whitespace-nowrap ${LOOKS[block.look]}`}
              style={{ left: `${block.left}%`, width: `${block.width}%` }}
            >
              {block.width > 5 && block.label}
            </span>
          ))}
        </div>
        <div className="relative h-7">
          {lane.threads.map((thread) => (
            <span
              key={thread.id}
              className="absolute top-0 h-3.5 border-b-2 border-l-2 border-ink"
              style={{ left: `${thread.left}%`, width: `${thread.width}%` }}
            >
              {thread.width > 12 && (
                <span className="absolute top-3.5 left-0 truncate text-cell whitespace-nowrap text-ink-2">
                  {thread.label}
                </span>
              )}
            </span>
          ))}
        </div>
      </div>
    </div>
  );
}

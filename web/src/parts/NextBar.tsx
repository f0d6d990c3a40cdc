import type { ReactNode } from "react";
import { type Keys, useKeys } from "./keys";
import { Mark } from "./Mark";
import { useRight } from "./Rights";

export type Act = { label: string; key: string; run: () => void; disabled?: boolean };

const KEY_WORDS: Record<string, string> = { " ": "Space", Enter: "Enter", Escape: "Esc" };

/** The bar that always says the one next thing, and its key. `busy` = everything is busy by itself. */
export function NextBar({
  sentence,
  detail,
  go,
  others = [],
  busy = false,
}: {
  sentence: ReactNode;
  detail?: ReactNode;
  go?: Act | undefined;
  others?: Act[];
  busy?: boolean;
}) {
  const mayChange = useRight("work");
  const acts = mayChange ? [...others, ...(go ? [go] : [])] : [];
  const keys: Keys = Object.fromEntries(acts.map((act) => [act.key, !act.disabled && act.run]));
  useKeys(keys);
  const look = busy ? "border-slate bg-slate-wash" : "border-brass-fill bg-brass-wash";
  return (
    <footer
      className={`no-print flex flex-wrap items-center gap-x-5 gap-y-2 border-t-2 px-4 py-2 md:px-6 ${look}`}
    >
      <p
        className={`flex items-center gap-2 font-bold md:w-28 ${busy ? "text-slate" : "text-brass"}`}
        id="next-label"
      >
        <Mark name={busy ? "busy" : "turn"} size={20} tone={busy ? "text-slate" : undefined} />
        {busy ? "Waiting" : mayChange ? "Your turn" : "View only"}
      </p>
      <p
        aria-live="polite"
        className="min-w-0 flex-1 basis-64 text-body font-semibold md:text-lead md:leading-6"
      >
        {sentence} {detail && <span className="font-normal text-ink-2">{detail}</span>}
      </p>
      <span className="flex w-full flex-wrap gap-3 md:w-auto">
        {acts.map((act) => (
          <ActButton
            key={act.label}
            act={act}
            look={
              act === go ? "btn-main justify-center max-md:min-h-15 max-md:flex-1" : "border-field bg-paper"
            }
          />
        ))}
      </span>
    </footer>
  );
}

function ActButton({ act, look }: { act: Act; look: string }) {
  return (
    <button type="button" className={`btn min-h-12 ${look}`} onClick={act.run} disabled={act.disabled}>
      <kbd className="key max-md:hidden">{KEY_WORDS[act.key] ?? act.key.toUpperCase()}</kbd>
      {act.label}
    </button>
  );
}

import { useState } from "react";
import type { Refused } from "../api/client";
import { Trouble } from "./Feedback";
import { NextBar } from "./NextBar";
import type { useTrial } from "./useTrial";

type Trial = ReturnType<typeof useTrial>;

/** What is wrong with what is tried, and which of two versions stays where somebody else changed the same meanwhile. */
export function TrialTrouble({ error, trial }: { error: Refused | null; trial: Trial }) {
  const trouble = trial.kept.error ?? error;
  if (!trouble) return null;
  return (
    <div className="mt-2 mb-3">
      <Trouble error={trouble} />
      {trial.kept.error?.conflict && (
        <p className="flex flex-wrap gap-3 pt-2">
          <button type="button" className="btn" onClick={trial.keepAnyway}>
            Keep mine
          </button>
          <button type="button" className="btn" onClick={trial.leave}>
            Take theirs
          </button>
        </p>
      )}
    </div>
  );
}

/** The bar while something is tried: save it, or drop it after a second press. */
export function TrialBar({ trial, wrong, detail }: { trial: Trial; wrong: boolean; detail: string }) {
  const [leaving, setLeaving] = useState(false);
  function drop() {
    trial.leave();
    setLeaving(false);
  }
  return leaving ? (
    <NextBar
      sentence="Drop everything you changed here?"
      go={{ label: "Drop it", key: "Enter", run: drop }}
      others={[{ label: "Go on", key: "Escape", run: () => setLeaving(false) }]}
    />
  ) : (
    <NextBar
      sentence={wrong ? "This cannot be saved as it stands." : "Save what you changed."}
      detail={wrong ? "" : detail}
      go={{ label: "Save", key: " ", run: trial.keep, disabled: wrong || trial.kept.isPending }}
      others={[{ label: "Leave it as it was", key: "Escape", run: () => setLeaving(true) }]}
    />
  );
}

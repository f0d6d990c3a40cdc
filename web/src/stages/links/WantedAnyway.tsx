import { Refused } from "../../api/client";
import { Trouble } from "../../parts/Feedback";

/** Why a link was refused; where only a way is missing, it can be kept as a wish. */
export function WantedAnyway({ error, keep }: { error: Error; keep: () => void }) {
  const wish = error instanceof Refused ? error.faults.find((fault) => fault.path === "wanted") : undefined;
  if (!wish) return <Trouble error={error} />;
  return (
    <div className="grid gap-2">
      <Trouble error={new Refused(422, error.message)} />
      <p className="text-small text-ink-2">{wish.message}</p>
      <button type="button" className="btn justify-self-start" onClick={keep}>
        Save it as wanted
      </button>
    </div>
  );
}

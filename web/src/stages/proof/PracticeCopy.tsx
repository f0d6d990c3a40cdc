import { useNavigate } from "react-router";
import { ask, client } from "../../api/client";
import { useChange } from "../../api/site";
import { Trouble } from "../../parts/Feedback";

/** On a real site: what the pretend site shows proves nothing here; a copy is there to practise on. */
export function PracticeCopy() {
  const navigate = useNavigate();
  const copy = useChange((key) =>
    ask(client.POST("/api/sites/{key}/practice", { params: { path: { key } } })),
  );
  return (
    <section className="mt-6 border-t border-hair pt-3" aria-label="Practice and proof">
      <h2 className="font-semibold">Practice is no proof</h2>
      <p className="max-w-prose py-1">
        Until real devices are measured, the pretend site answers here. It locks and proves nothing on this
        site.
      </p>
      <button
        type="button"
        className="btn"
        disabled={copy.isPending}
        onClick={() => copy.mutate(undefined, { onSuccess: (made) => navigate(`/sites/${made.key}/proof`) })}
      >
        Practise on a copy
      </button>
      {copy.error && <Trouble error={copy.error} />}
    </section>
  );
}

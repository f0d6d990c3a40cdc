import { useNavigate } from "react-router";
import { ask, client } from "../../api/client";
import { useChange } from "../../api/site";
import { Trouble } from "../../parts/Feedback";

/** On a real site: what the pretend site shows proves nothing here; a copy is there to practise on. */
export function PracticeCopy({ measured }: { measured: boolean }) {
  const navigate = useNavigate();
  const copy = useChange((key) =>
    ask(client.POST("/api/sites/{key}/practice", { params: { path: { key } } })),
  );
  return (
    <section
      className="mb-3 flex flex-wrap items-center gap-x-6 gap-y-1 border-b border-hair pb-2"
      aria-label="Practice is no proof"
    >
      <p className="max-w-prose flex-1 basis-72">
        <strong>Practice is no proof.</strong>{" "}
        {measured
          ? "The pretend site was measured; each reading shows what it answered, and nothing here is proven by it."
          : "Until real devices are measured, the pretend site answers here. It proves and locks nothing on this site."}
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

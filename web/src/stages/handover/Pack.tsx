import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { showAnswer } from "../../api/answered";
import { ask, client, cookie, type Refused, refusal, type Schemas } from "../../api/client";
import { invalidateSite, useSiteKey } from "../../api/site";
import { momentOf } from "../../parts/dates";
import { Trouble } from "../../parts/Feedback";
import { LineField } from "../../parts/LineField";
import { State } from "../../parts/Mark";

type Sheet = Schemas["PackSheet"];
const EVERY_MS = 400;

function usePack() {
  const key = useSiteKey();
  return useQuery<Sheet>({
    queryKey: ["site", key, "pack"],
    queryFn: () => ask(client.GET("/api/sites/{key}/pack", { params: { path: { key } } })),
    refetchInterval: (query) =>
      ["waiting", "running"].includes(query.state.data?.last?.state ?? "") ? EVERY_MS : false,
  });
}

/** The handover pack: made in the background, with how far it is, then taken away. */
export function Pack() {
  const key = useSiteKey();
  const pack = usePack();
  const queries = useQueryClient();
  const make = useMutation<Sheet, Refused>({
    mutationFn: () => ask(client.POST("/api/sites/{key}/pack", { params: { path: { key } } })),
    onSuccess: (sheet) => showAnswer(queries, ["site", key, "pack"], sheet),
  });
  const last = pack.data?.last;
  const making = last?.state === "waiting" || last?.state === "running";
  return (
    <section aria-label="Handover pack" className="mt-3 border-t border-hair pt-3">
      <h3 className="font-semibold">Handover pack (ZIP)</h3>
      <p className="pb-2 text-small text-ink-2">
        Everything that is left behind, with photographs and the log; no password is in it.
      </p>
      {make.error && <Trouble error={make.error} />}
      {pack.error && <Trouble error={pack.error} retry={() => pack.refetch()} />}
      {last && making && (
        <div role="status">
          <progress
            className="h-3 w-full accent-kelp"
            value={last.share}
            max={1}
            aria-label="How far the pack is"
          />
          <p className="text-small">
            {last.state === "waiting"
              ? "It waits its turn."
              : `${Math.round(last.share * 100)} %, ${last.part}${
                  last.left_s === null ? "" : `, ${Math.ceil(last.left_s)} s left`
                }`}
          </p>
        </div>
      )}
      {last?.state === "failed" && <State name="broken">{last.message}</State>}
      {last?.state === "done" && (
        <p className="text-small">
          <a
            className="btn w-full text-ink no-underline"
            href={`/api/sites/${key}/pack/${last.number}.zip`}
            download
          >
            Take the pack, {(last.size / 1e6).toFixed(1)} MB
          </a>
          <span className="block pt-1">
            Made by {last.by}, {momentOf(last.at)}.{" "}
            {!last.ready && "It says on every page that something is still open. "}
            {last.changed && <b className="font-semibold">The site was changed since.</b>}
          </span>
        </p>
      )}
      {!making && (
        <button
          type="button"
          className="btn mt-2 w-full justify-center"
          disabled={!pack.data || make.isPending}
          onClick={() => make.mutate()}
        >
          {last ? "Make it again" : "Make the pack"}
        </button>
      )}
      {(pack.isPending || pack.data) && (
        <details className="mt-3 border-t border-hair">
          <summary className="min-h-11 cursor-pointer py-2.5 font-semibold">
            Sealed sheet of credentials
          </summary>
          {pack.data && <Sealed sheet={pack.data} />}
        </details>
      )}
    </section>
  );
}

/** Credentials on paper, apart from everything else: printed once, logged, split by who may know what. */
function Sealed({ sheet }: { sheet: Sheet }) {
  const key = useSiteKey();
  const queries = useQueryClient();
  const [part, setPart] = useState(sheet.sealed[0]?.key ?? "owner");
  const [forWhom, setForWhom] = useState("");
  const [reason, setReason] = useState("");
  const chosen = sheet.sealed.find((item) => item.key === part);
  const print = useMutation<void, Refused>({
    mutationFn: async () => {
      const answer = await fetch(`/api/sites/${key}/sealed`, {
        method: "POST",
        headers: { "Content-Type": "application/json", "X-CSRFToken": cookie("csrftoken") },
        body: JSON.stringify({ part, for_whom: forWhom, reason }),
      });
      if (!answer.ok) throw refusal(answer.status, await answer.json().catch(() => null));
      const link = document.createElement("a");
      link.href = URL.createObjectURL(await answer.blob());
      link.download = `${key}-sealed.pdf`;
      link.click();
      URL.revokeObjectURL(link.href);
    },
    onSuccess: () => setReason(""),
    onSettled: () => invalidateSite(queries, key),
  });
  return (
    <form
      className="grid gap-2 pb-2"
      onSubmit={(event) => {
        event.preventDefault();
        print.mutate();
      }}
    >
      <label className="grid gap-0.5 text-cell">
        which part
        <select className="box w-full" value={part} onChange={(event) => setPart(event.target.value)}>
          {sheet.sealed.map((item) => (
            <option key={item.key} value={item.key}>
              {item.title} ({item.slots})
            </option>
          ))}
        </select>
      </label>
      <p className="text-small text-ink-2">
        {chosen?.says}{" "}
        {chosen && chosen.printed > 0 && (
          <b className="font-semibold text-ink">
            Printed {chosen.printed === 1 ? "once" : `${chosen.printed} times`}, last for {chosen.for_whom} by{" "}
            {chosen.by}.
          </b>
        )}
      </p>
      <LineField label="for whom" value={forWhom} set={setForWhom} most={200} />
      {chosen && chosen.printed > 0 && (
        <LineField label="why it is printed again" value={reason} set={setReason} most={300} />
      )}
      {print.error && <Trouble error={print.error} />}
      <button
        type="submit"
        className="btn justify-self-start"
        disabled={
          print.isPending || !forWhom.trim() || !chosen?.slots || (chosen.printed > 0 && !reason.trim())
        }
      >
        Print it (PDF)
      </button>
      <p className="text-small text-ink-2">
        It is logged, and kept nowhere: print it, seal it, delete the file.
      </p>
    </form>
  );
}

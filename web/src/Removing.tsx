import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { ask, client, type Refused, type Schemas } from "./api/client";
import { LargeDialog } from "./parts/Dialog";
import { Trouble } from "./parts/Feedback";

function useRefresh() {
  const queries = useQueryClient();
  return () =>
    Promise.all([["sites"], ["removed"]].map((queryKey) => queries.invalidateQueries({ queryKey })));
}

/** Asks before a site goes off the list, and says for how long it can be put back. */
export function RemoveSite({ site, close }: { site: Schemas["SiteRow"]; close: () => void }) {
  const refresh = useRefresh();
  const remove = useMutation<unknown, Refused>({
    mutationFn: () =>
      ask(
        client.POST("/api/sites/{key}/remove", {
          params: { path: { key: site.key } },
          body: { revision: site.revision },
        }),
      ),
    onSuccess: () => refresh().then(close),
  });
  return (
    <LargeDialog title={`Remove ${site.name}?`} close={close}>
      <p className="mt-3 max-w-prose">
        It can be put back for 30 days. After that its devices, links, readings, passwords and photographs are
        gone for good; its log stays.
      </p>
      {remove.error && <Trouble error={remove.error} />}
      <div className="mt-4 flex flex-wrap gap-2">
        <button type="button" className="btn" disabled={remove.isPending} onClick={() => remove.mutate()}>
          {remove.isPending ? "Removing…" : "Remove it"}
        </button>
        <button type="button" className="btn btn-main" onClick={close}>
          Cancel
        </button>
        <a className="btn text-ink no-underline" href={`/api/sites/${site.key}/file`} download>
          Save its site file first
        </a>
      </div>
    </LargeDialog>
  );
}

/** Sites that were removed, and until when each can be put back. */
export function RemovedSites() {
  const refresh = useRefresh();
  const removed = useQuery({
    queryKey: ["removed"],
    queryFn: () => ask(client.GET("/api/removed-sites")),
  });
  const back = useMutation<unknown, Refused, string>({
    mutationFn: (key) => ask(client.POST("/api/sites/{key}/put-back", { params: { path: { key } } })),
    onSettled: refresh,
  });
  if (!removed.data?.length) return null;
  return (
    <section aria-label="Removed sites" className="mt-8">
      <h2 className="text-lead font-semibold">Removed</h2>
      {back.error && <Trouble error={back.error} />}
      <ul className="mt-1 border-t border-hair">
        {removed.data.map((site) => (
          <li
            key={site.key}
            className="flex flex-wrap items-center gap-x-4 border-b border-hair py-1 text-list"
          >
            <span className="min-w-0 flex-1 basis-64 [overflow-wrap:anywhere]">
              {site.name} <span className="font-mono text-note text-ink-2">{site.key}</span>
            </span>
            <span className="text-small text-ink-2">
              by {site.removed_by}; gone for good on{" "}
              {new Date(site.gone_at).toLocaleDateString("en-GB", { dateStyle: "long" })}
            </span>
            <button
              type="button"
              className="btn"
              disabled={back.isPending}
              onClick={() => back.mutate(site.key)}
              aria-label={`Put ${site.name} back`}
            >
              Put back
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

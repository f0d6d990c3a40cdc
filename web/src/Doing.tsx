import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { ask, client, type Schemas } from "./api/client";
import { momentOf } from "./parts/dates";
import { Loading, Trouble } from "./parts/Feedback";
import { Mark, State } from "./parts/Mark";
import { TopHead } from "./parts/TopHead";

const AGAIN_MS = 30_000;

/** How the installation is doing: what worries first, then what lies there, its backups, what runs. */
export function Doing() {
  const doing = useQuery({
    queryKey: ["doing"],
    queryFn: () => ask(client.GET("/api/doing")),
    refetchInterval: AGAIN_MS,
  });
  useEffect(() => {
    document.title = "How is it doing · Tutelar";
  }, []);
  const data = doing.data;
  return (
    <main className="relative mx-auto max-w-6xl px-4 py-6">
      <TopHead title="How is it doing" />
      {doing.isPending && <Loading what="how it is doing" />}
      {doing.error && <Trouble error={doing.error} retry={() => doing.refetch()} />}
      {data && (
        <>
          <section aria-labelledby="worries" className="mt-4 border-t-2 border-ink pt-3">
            <h2 id="worries" className="pb-1 text-lead font-semibold">
              {data.worries.length === 0 ? <State name="set">Nothing worries</State> : "What to look after"}
            </h2>
            <ul>
              {data.worries.map((worry) => (
                <li key={worry.says} className="flex items-start gap-3 border-b border-hair py-2">
                  <span className="mt-1">
                    <Mark name="off" />
                  </span>
                  <span className="min-w-0">
                    {worry.says} <span className="text-ink-2 [overflow-wrap:anywhere]">{worry.fix}</span>
                  </span>
                </li>
              ))}
            </ul>
          </section>
          <div className="grid gap-x-10 gap-y-8 pt-8 lg:grid-cols-2">
            <Figures title="What is here" rows={data.figures} />
            <div className="grid content-start gap-8">
              <Backups rows={data.backups} folder={data.backup_folder} />
              <Figures title="What runs" rows={data.versions} />
              {data.fingerprint && (
                <section aria-labelledby="shown">
                  <h2 id="shown" className="pb-1 font-semibold">
                    The certificate that it shows
                  </h2>
                  <p className="border-t border-hair py-2 font-mono text-small break-all">
                    {data.fingerprint}
                  </p>
                  <p className="text-small text-ink-2">
                    SHA-256. Browsers that ask whether to trust it show the same.
                  </p>
                </section>
              )}
            </div>
          </div>
        </>
      )}
    </main>
  );
}

function Figures({ title, rows }: { title: string; rows: Schemas["Figure"][] }) {
  return (
    <section aria-label={title}>
      <h2 className="pb-1 font-semibold">{title}</h2>
      <dl className="border-t border-hair">
        {rows.map((row) => (
          <div
            key={row.name}
            className="grid grid-cols-[11rem_minmax(0,1fr)] gap-3 border-b border-hair py-1.5"
          >
            <dt className="text-ink-2">{row.name}</dt>
            <dd>{row.value}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}

function Backups({ rows, folder }: { rows: Schemas["BackupRow"][]; folder: string }) {
  return (
    <section aria-labelledby="backups">
      <h2 id="backups" className="pb-1 font-semibold">
        Backups
      </h2>
      <ul className="border-t border-hair">
        {rows.map((row) => (
          <li key={row.name} className="flex flex-wrap justify-between gap-x-4 border-b border-hair py-1.5">
            <span>{momentOf(row.at)}</span>
            <span className="text-ink-2">{(row.size / 1e6).toFixed(1)} MB</span>
          </li>
        ))}
        {rows.length === 0 && <li className="py-2 text-ink-2">None was made by itself yet.</li>}
      </ul>
      <p className="pt-2 text-small text-ink-2 [overflow-wrap:anywhere]">
        One a day by itself, in {folder}. By hand, while it is served: <Command words="tutelar backup FILE" />
        . Everything in open formats, to take elsewhere: <Command words="tutelar archive FILE" />.
      </p>
    </section>
  );
}

const Command = ({ words }: { words: string }) => <code className="font-mono text-ink">{words}</code>;

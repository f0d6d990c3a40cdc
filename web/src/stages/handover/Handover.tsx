import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { Link, useNavigate } from "react-router";
import { ask, client } from "../../api/client";
import { useFrame, useJob, useSiteKey } from "../../api/site";
import { EventList } from "../../parts/EventList";
import { Loading, Trouble } from "../../parts/Feedback";
import { Files } from "../../parts/Files";
import { Mark } from "../../parts/Mark";
import { NextBar } from "../../parts/NextBar";
import { Page } from "../../parts/Page";
import { SearchBox } from "../../parts/SearchBox";
import { MARKS } from "../../parts/StageMark";
import { stageWord } from "../stages";
import { Guests } from "./Guests";
import { Pack } from "./Pack";

/** What still stands in the way, what is taken away, and the log. */
export function Handover() {
  const frame = useFrame();
  const key = useSiteKey();
  const navigate = useNavigate();
  const schedule = `/api/sites/${key}/files/schedule.csv`;
  const job = useJob();
  const next = job.data?.next;
  return (
    <>
      <Page title="Handover" fetched={frame}>
        {() => (
          <div className="grid gap-8 xl:grid-cols-[1fr_360px]">
            <div>
              <h2 className="text-lead font-semibold">What still stands in the way</h2>
              <p className="flex flex-wrap gap-x-6">
                <Link
                  className="inline-flex min-h-11 items-center text-small font-medium"
                  to={`/sites/${key}/leaving`}
                >
                  Leaving the site: every open end, and the sign-off
                </Link>
                <Link
                  className="inline-flex min-h-11 items-center text-small font-medium"
                  to={`/sites/${key}/later`}
                >
                  Later: diary, a device replaced, when it was recorded
                </Link>
              </p>
              <ul className="mt-2">
                {(job.data?.stages ?? [])
                  .filter((stage) => stage.stage !== "handover")
                  .map((stage) => (
                    <li key={stage.stage} className="flex items-center gap-3 border-b border-hair py-2">
                      <Mark name={stage.mark === "open" ? "planned" : MARKS[stage.mark].name} />
                      <Link to={`/sites/${key}/${stage.stage}`} className="w-28 font-semibold">
                        {stageWord(stage.stage)}
                      </Link>
                      <span>{stage.mark === "open" ? `${stage.open} open` : MARKS[stage.mark].word}</span>
                    </li>
                  ))}
                {job.data && (
                  <li className="flex items-center gap-3 border-b border-hair py-2">
                    <Mark name={job.data.laptop.fixed ? "off" : "set"} />
                    <span className="w-28 font-semibold">This laptop</span>
                    <span>
                      {job.data.laptop.fixed
                        ? `still fixed at ${job.data.laptop.address}`
                        : "back to automatic"}
                    </span>
                  </li>
                )}
              </ul>
              <Log site={key} />
            </div>
            <aside className="slip self-start">
              <h2 className="text-lead font-semibold">Download</h2>
              <p className="mt-3">
                <a className="btn w-full text-ink no-underline" href={`/api/sites/${key}/file`} download>
                  Site file (JSON)
                </a>
              </p>
              <Pack />
              <Guests />
              <div className="mt-3 border-t border-hair pt-3 text-small">
                <p className="pb-1 text-ink-2">
                  The schedule says of each device whether its address is planned, set or proven.
                </p>
                <Files />
              </div>
            </aside>
          </div>
        )}
      </Page>
      {next && (
        <NextBar
          sentence={next.sentence}
          detail={next.detail}
          go={
            next.act === "schedule"
              ? { label: "Take the schedule", key: " ", run: () => window.location.assign(schedule) }
              : next.stage === "handover"
                ? { label: "See what is open", key: " ", run: () => navigate(`/sites/${key}/leaving`) }
                : {
                    label: `Go to ${stageWord(next.stage).toLowerCase()}`,
                    key: " ",
                    run: () => navigate(`/sites/${key}/${next.stage}`),
                  }
          }
        />
      )}
    </>
  );
}

function Log({ site }: { site: string }) {
  const [typed, setTyped] = useState("");
  const search = useDeferredValue(typed);
  const events = useQuery({
    queryKey: ["site", site, "events", search],
    queryFn: () =>
      ask(client.GET("/api/sites/{key}/events", { params: { path: { key: site }, query: { search } } })),
  });
  return (
    <section className="mt-8">
      <div className="flex flex-wrap items-end justify-between gap-3">
        <h2 className="text-lead font-semibold">What was changed, when, by whom</h2>
        <SearchBox label="Search the log" value={typed} search={setTyped} />
      </div>
      {events.isPending && <Loading what="the log" />}
      {events.error && <Trouble error={events.error} retry={() => events.refetch()} />}
      {events.data?.length === 0 && <p className="py-3 text-ink-2">No line of the log holds “{search}”.</p>}
      {events.data && <EventList events={events.data} />}
    </section>
  );
}

import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { useSiteKey } from "../../api/site";
import { ClockLook } from "../../parts/ClockLook";
import { Empty } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";
import { useTruncated } from "../../parts/useTruncated";

type Sheet = Schemas["Clocks"];

/** The site's time: its rule, its one source, every clock, and when the clocks are turned next. */
export function Clocks({ data }: { data: Sheet }) {
  const site = useSiteKey();
  const [open, setOpen] = useState<string | null>(null);
  const troubled = data.devices.filter((device) => device.doubtful);
  const rest = data.devices.filter((device) => !troubled.includes(device));
  const rows = [...troubled, ...rest];
  const [shown, more] = useTruncated(rows);
  if (data.devices.length === 0)
    return <Empty title="No clocks yet">There is no device in the kit yet.</Empty>;
  return (
    <div className="grid gap-x-8 gap-y-6 pt-2 xl:grid-cols-[minmax(0,1fr)_24rem]">
      <div className="min-w-0">
        <p className="flex items-start gap-2">
          <span className="mt-1">
            <Mark name={data.source ? "set" : "off"} />
          </span>
          <span>
            <b>One time source.</b> {data.sentence}
          </span>
        </p>
        <p className="flex items-start gap-2 pt-1">
          <span className="mt-1">
            <Mark name={data.zone && !data.fault ? "set" : "off"} />
          </span>
          <span>
            <b>{data.zone ?? "The time zone is not known yet."}</b> {data.fault ?? data.rule}{" "}
            {!data.zone && <Link to={`/sites/${site}/survey`}>Ask for it in the survey</Link>}
          </span>
        </p>
        <h2 className="mt-4 border-b border-hair pb-1 font-semibold">
          {troubled.length > 0
            ? `${troubled.length} of ${rows.length} clocks need a look`
            : `${rows.length} clocks`}
        </h2>
        <ul aria-label="Clocks by device">
          {shown.map((device) => {
            return (
              <li key={device.key} className="border-b border-hair py-1 text-list">
                <div className="flex flex-wrap items-center gap-x-4">
                  <span className="flex w-60 min-w-0 items-center gap-2 max-md:w-full">
                    <Mark
                      name={
                        device.doubtful ? "off" : device.proven ? "proven" : device.said ? "set" : "planned"
                      }
                    />
                    <Link
                      to={`/sites/${site}/devices/${device.key}`}
                      className="truncate font-semibold"
                      title={device.name}
                    >
                      {device.name}
                    </Link>
                  </span>
                  <span className="w-40 font-mono text-small">{device.source ?? "no server"}</span>
                  <span className="min-w-0 flex-1 basis-56 text-small">
                    {device.said ?? (device.reached ? "not looked at yet" : device.why)}
                  </span>
                  <button
                    type="button"
                    className="min-h-11 px-2 text-small font-semibold underline underline-offset-4"
                    aria-expanded={open === device.key}
                    aria-label={`Look at the clock of ${device.name}`}
                    onClick={() => setOpen(open === device.key ? null : device.key)}
                  >
                    Look
                  </button>
                </div>
                {open === device.key && (
                  <div className="border-l-4 border-brass-fill py-2 pl-4">
                    <ClockLook
                      device={device.key}
                      name={device.name}
                      order={data.date_order}
                      zone={data.zone}
                      face={data.clock}
                    />
                  </div>
                )}
              </li>
            );
          })}
        </ul>
        {more}
      </div>
      <Coming data={data} />
    </div>
  );
}

function Coming({ data }: { data: Sheet }) {
  const site = useSiteKey();
  return (
    <aside className="slip self-start" aria-label="Coming changes of the clocks">
      <h2 className="text-lead font-semibold">When the clocks are turned</h2>
      {data.coming.length === 0 ? (
        <p className="pt-2 text-small text-ink-2">
          {data.zone ? "Not in the next two years." : "Not known without the time zone."}
        </p>
      ) : (
        <>
          <ol className="mt-2">
            {data.coming.map((turn) => (
              <li key={turn.at} className="border-b border-hair py-2 text-small">
                <time dateTime={turn.at} className="block font-semibold">
                  {new Date(turn.at).toLocaleDateString("en-GB", {
                    dateStyle: "full",
                    timeZone: data.zone ?? undefined,
                  })}
                </time>
                {turn.sentence}
                <details className="pt-1">
                  <summary className="min-h-6 cursor-pointer underline underline-offset-4">
                    Look at {turn.looks.length} {turn.looks.length === 1 ? "device" : "devices"} then
                  </summary>
                  <ul className="pt-1">
                    {turn.looks.map((look) => (
                      <li key={look.device} className="py-0.5">
                        <Link to={`/sites/${site}/devices/${look.device}`}>{look.name}</Link>{" "}
                        <span className="text-ink-2">{look.why}</span>
                      </li>
                    ))}
                  </ul>
                </details>
              </li>
            ))}
          </ol>
          <a
            className="btn mt-3 w-full text-ink no-underline"
            href={`/api/sites/${site}/files/clocks.ics`}
            download
          >
            Into the calendar (.ics)
          </a>
        </>
      )}
    </aside>
  );
}

import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { client } from "../../api/client";
import { useSiteKey } from "../../api/site";
import { Trouble } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";
import { spoken } from "./lane";
import { searching } from "./useBench";

const SPEEDS = [30, 120, 600];

/** The run played on the pretend bench before the van leaves; `show` moves the now-line of the lane along. */
export function Rehearsal({
  technicians,
  now,
  show,
}: {
  technicians: number;
  now: number;
  show: (at: number) => void;
}) {
  const key = useSiteKey();
  const [speed, setSpeed] = useState(0);
  const [asked, setAsked] = useState(false);
  const played = useQuery({
    queryKey: ["site", key, "rehearsal", technicians],
    queryFn: ({ signal }) =>
      searching(key, technicians, signal, () =>
        client.GET("/api/sites/{key}/rehearsal", {
          params: { path: { key }, query: { technicians } },
          signal,
        }),
      ),
    enabled: asked,
  });
  const total = played.data?.total_s ?? 0;
  const going = speed > 0 && now < total;
  useEffect(() => {
    if (!going) return;
    const timer = setTimeout(() => show(Math.min(total, now + speed / 5)), 200);
    return () => clearTimeout(timer);
  }, [going, now, speed, total, show]);
  function start(times: number) {
    setAsked(true);
    setSpeed(times);
    if (times === 0 || now >= total) show(0);
  }
  const seen = (played.data?.faults ?? []).filter((fault) => !going || fault.at_s <= now);
  return (
    <section className="mt-5 max-w-prose" aria-label="Rehearsal">
      <h3 className="font-semibold">Rehearse it on the pretend bench</h3>
      <p className="flex flex-wrap items-center gap-2 py-2">
        <button type="button" className="btn text-small" onClick={() => start(0)}>
          At once
        </button>
        or watch it
        {SPEEDS.map((times) => (
          <button
            key={times}
            type="button"
            className="btn text-small"
            aria-label={`Watch it ${times} times as fast`}
            onClick={() => start(times)}
          >
            {times} ×
          </button>
        ))}
        {going && (
          <button type="button" className="btn text-small" onClick={() => setSpeed(0)}>
            Stop
          </button>
        )}
      </p>
      {played.error && <Trouble error={played.error} />}
      <div aria-live="polite">
        {played.data && going && <p>{spoken(now)} into the run.</p>}
        {played.data && !going && seen.length === 0 && (
          <p className="flex items-center gap-2">
            <Mark name="proven" /> All {played.data.played} steps went, in {spoken(total)}: every device
            answered where the plan expects it.
          </p>
        )}
        {seen.length > 0 && (
          <ul className="border-t border-hair">
            {seen.map((fault) => (
              <li key={fault.step} className="border-b border-hair py-1.5 text-list">
                <b>
                  {spoken(fault.at_s)}, {fault.title}:
                </b>{" "}
                {fault.fault}
              </li>
            ))}
          </ul>
        )}
      </div>
    </section>
  );
}

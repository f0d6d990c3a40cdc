import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { invalidateSite, invalidateWork, useSiteKey } from "../../api/site";

type Run = Schemas["ProofRun"];

/** The running measurement, told by the server as it goes; the sheet is fetched anew on the way and at the end. */
export function useRunning(last: Run | null): Run | null {
  const site = useSiteKey();
  const queries = useQueryClient();
  const [told, setTold] = useState<Run | null>(null);
  const known = useRef(last);
  known.current = last;
  const id = last?.id;
  const going = last?.state === "waiting" || last?.state === "running";
  useEffect(() => {
    if (!going || id === undefined) return;
    const stream = new EventSource(`/api/sites/${site}/proofs/${id}/events`);
    let restsUntil = 0; // a large sheet takes long to fetch: at most a quarter of the time is spent on that
    stream.onmessage = (event) => {
      const news = JSON.parse(event.data) as Pick<Run, "state" | "measured" | "total" | "message">;
      setTold((before) => ({ ...(before?.id === id ? before : (known.current as Run)), ...news, id }));
      const ended = news.state !== "waiting" && news.state !== "running";
      if (ended) stream.close();
      if (!ended && Date.now() < restsUntil) return;
      const asked = Date.now();
      restsUntil = Number.POSITIVE_INFINITY;
      invalidateSite(queries, site).finally(() => {
        restsUntil = Date.now() + Math.max(1000, 3 * (Date.now() - asked));
      });
    };
    return () => stream.close();
  }, [going, id, site, queries]);
  const was = useRef(going);
  useEffect(() => {
    // what was fetched beside the end of it may be older than the end
    if (was.current && !going) invalidateWork(queries, site);
    was.current = going;
  }, [going, queries, site]);
  return told && told.id === id && going ? told : last;
}

/** How long the rest takes at the pace so far, once there is a pace to speak of. */
export function timeLeft(run: Run): string {
  const past = (Date.now() - new Date(run.started_at).getTime()) / 1000;
  if (past < 3 || run.measured < 5 || run.measured >= run.total) return "";
  const left = (past * (run.total - run.measured)) / run.measured;
  return left < 90 ? `, about ${Math.ceil(left)} s left` : `, about ${Math.ceil(left / 60)} min left`;
}

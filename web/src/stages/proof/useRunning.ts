import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import type { Schemas } from "../../api/client";
import { fetchAnew, useSiteKey } from "../../api/site";

type Run = Schemas["ProofRun"];

/** The running measurement, told by the server as it goes; the sheet is fetched anew on the way and at the end. */
export function useRunning(last: Run | null): Run | null {
  const site = useSiteKey();
  const queries = useQueryClient();
  const [told, setTold] = useState<Run | null>(null);
  const id = last?.id;
  const going = last?.state === "waiting" || last?.state === "running";
  useEffect(() => {
    if (!going || id === undefined) return;
    const stream = new EventSource(`/api/sites/${site}/proofs/${id}/events`);
    let fetchedAt = 0;
    stream.onmessage = (event) => {
      const news = JSON.parse(event.data) as Pick<Run, "state" | "measured" | "total" | "message">;
      setTold((before) => ({ ...(before ?? (last as Run)), ...news, id }));
      const ended = news.state !== "waiting" && news.state !== "running";
      if (ended) stream.close();
      if (ended || Date.now() - fetchedAt > 1000) {
        fetchedAt = Date.now();
        fetchAnew(queries, site);
      }
    };
    return () => stream.close();
  }, [going, id, site, queries, last]);
  return told && told.id === id && going ? told : last;
}

/** How long the rest takes at the pace so far, once there is a pace to speak of. */
export function timeLeft(run: Run): string {
  const past = (Date.now() - new Date(run.started_at).getTime()) / 1000;
  if (past < 3 || run.measured < 5 || run.measured >= run.total) return "";
  const left = (past * (run.total - run.measured)) / run.measured;
  return left < 90 ? `, about ${Math.ceil(left)} s left` : `, about ${Math.ceil(left / 60)} min left`;
}

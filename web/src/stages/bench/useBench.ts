import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import { ask, client, PAGE, type Schemas } from "../../api/client";
import { invalidateSite, invalidateWork, useSiteKey } from "../../api/site";
import { pollsPretend } from "../../parts/Pretend";
import { showTicks } from "../../parts/useTicks";

export type Sheet = Schemas["BenchSheet"];

/** The bench of one technician (`hand` in the address), fetched anew whenever somebody does something at it. */
export function useBench() {
  const key = useSiteKey();
  const queries = useQueryClient();
  const [params] = useSearchParams();
  const hand = whole(params.get("hand"));
  const technicians = whole(params.get("technicians"));
  const stage = ["bench", String(hand), String(technicians)];
  const sheet = useQuery<Sheet, Error>({
    queryKey: ["site", key, ...stage],
    queryFn: () =>
      ask(client.GET("/api/sites/{key}/bench", { params: { path: { key }, query: { hand, technicians } } })),
    refetchInterval: ({ state: { data } }) =>
      pollsPretend(data?.current?.practised) || (data?.run.state === "running" ? 20_000 : false),
    placeholderData: (before) => before,
  });
  const [stoppedFor, setStoppedFor] = useState(0); // so many technicians
  const stopped = stoppedFor === technicians;
  const planned = sheet.data?.run.state === "planned" && sheet.data.steps.length > 0;
  const searched = useQuery<Sheet, Error>({
    queryKey: ["site", key, "plan of the bench", String(technicians)],
    queryFn: ({ signal }) =>
      searching(key, technicians, signal, () =>
        client.GET("/api/sites/{key}/bench", {
          params: { path: { key }, query: { hand, technicians, searched: true } },
          signal,
        }),
      ),
    enabled: planned && !stopped,
  });
  useEffect(() => {
    const stream = new EventSource(`/api/sites/${key}/bench/events?page=${PAGE}`);
    let last: { version_token: string; revision: number } | undefined;
    let missed: "work" | "site" | undefined;
    // what is said here is fetched once it is kept; what another says meanwhile, right after
    function follow() {
      if (!missed || queries.isMutating() > 0) return;
      if (missed === "site") invalidateSite(queries, key);
      else invalidateWork(queries, key);
      missed = undefined;
    }
    stream.onmessage = (event) => {
      const now = JSON.parse(event.data) as { version_token: string; revision: number };
      if (last && last.version_token !== now.version_token) missed = "site";
      else if (last && last.revision !== now.revision) missed ??= "work";
      last = now;
      follow();
    };
    stream.addEventListener("ticks", (event) => showTicks(queries, key, JSON.parse(event.data)));
    const forget = queries.getMutationCache().subscribe(follow);
    return () => {
      forget();
      stream.close();
    };
  }, [key, queries]);
  const search: Search = {
    state: !planned || searched.data ? "done" : stopped ? "stopped" : "going",
    stop: () => {
      setStoppedFor(technicians);
      queries.cancelQueries({ queryKey: ["site", key, "plan of the bench", String(technicians)] });
    },
    again: () => setStoppedFor(0),
  };
  return { sheet, stage, plan: planned ? searched.data : undefined, search };
}

/** The search for a shorter order before the run is started. */
export type Search = { state: "going" | "stopped" | "done"; stop: () => void; again: () => void };

/** Asks for what is searched for; the server stops searching where nobody waits for it any more. */
export function searching<T>(
  key: string,
  technicians: number,
  signal: AbortSignal,
  get: () => Parameters<typeof ask<T>>[0],
) {
  const stop = () =>
    client.DELETE("/api/sites/{key}/run/search", { params: { path: { key }, query: { technicians } } });
  signal.addEventListener("abort", stop);
  return ask<T>(get()).finally(() => signal.removeEventListener("abort", stop));
}

function whole(text: string | null): number {
  const number = Number(text);
  return Number.isInteger(number) && number >= 1 && number <= 20 ? number : 1;
}

/** Seconds on the clock of the run, ticking while it runs; and the time of day of any second on it. */
export function useRunClock(data: Sheet | undefined, fetchedAt: number) {
  const [, tick] = useState(0);
  const going = data?.run.state === "running";
  useEffect(() => {
    if (!going) return;
    const timer = setInterval(() => tick((count) => count + 1), 1000);
    return () => clearInterval(timer);
  }, [going]);
  const now = (data?.run.now_s ?? 0) + (going ? Math.max(0, Date.now() - fetchedAt) / 1000 : 0);
  const started = data?.run.started_at;
  function clock(seconds: number): string {
    if (!started) return `${Math.round(seconds / 60)} min`;
    return new Date(Date.parse(started) + seconds * 1000).toLocaleTimeString([], {
      hour: "2-digit",
      minute: "2-digit",
      hour12: false,
    });
  }
  return { now, clock };
}

const CALLS = "tutelar.bench-calls";

/** Whether a tone and a short vibration call the technician when a device is ready. Off until switched on. */
export function useCalls(ready: number) {
  const [on, setOn] = useState(() => localStorage.getItem(CALLS) === "on");
  const before = useRef(ready);
  useEffect(() => {
    if (on && ready > before.current) call();
    before.current = ready;
  }, [on, ready]);
  function toggle() {
    localStorage.setItem(CALLS, on ? "off" : "on");
    if (!on) call();
    setOn(!on);
  }
  return { on, toggle };
}

function call() {
  navigator.vibrate?.([120, 80, 120]);
  try {
    const sound = new AudioContext();
    const tone = sound.createOscillator();
    const volume = sound.createGain();
    volume.gain.value = 0.15;
    tone.frequency.value = 880;
    tone.connect(volume).connect(sound.destination);
    tone.start();
    tone.stop(sound.currentTime + 0.25);
    tone.onended = () => sound.close();
  } catch {
    // a device without sound is called by the page alone
  }
}

import { type FormEvent, useEffect, useState } from "react";
import { ask, client, type Refused, type Schemas } from "../api/client";
import { useChange, useSiteKey } from "../api/site";
import { Mark, type MarkName } from "./Mark";

type Finding = Schemas["Finding"];
const MARKS: Record<string, MarkName> = { good: "set", drift: "off" };

/** This moment as the site writes it, in its time zone. */
function written(order: string, zone: string | null, face: string): string {
  const parts = new Intl.DateTimeFormat("en-GB", {
    timeZone: zone ?? undefined,
    year: "numeric",
    month: "2-digit",
    day: "2-digit",
    hour: "2-digit",
    minute: "2-digit",
    second: "2-digit",
    hourCycle: face === "12h" ? "h12" : "h23",
  }).formatToParts(new Date());
  const of = (type: string) => parts.find((part) => part.type === type)?.value ?? "";
  const date = {
    DMY: ["day", "month", "year"],
    MDY: ["month", "day", "year"],
    YMD: ["year", "month", "day"],
  }[order] ?? ["day", "month", "year"];
  const half = face === "12h" ? ` ${of("dayPeriod")}` : "";
  return `${date.map(of).join("/")} ${of("hour")}:${of("minute")}:${of("second")}${half}`;
}

/**
 * What the device shows is typed, or tapped when its minute turns; what is wrong with it is said at once.
 * The look counts from the moment of the tap, or of the last letter.
 */
export function ClockLook({
  device,
  name,
  order,
  zone,
  face,
}: {
  device: string;
  name: string;
  order: string;
  zone: string | null;
  face: string;
}) {
  const key = useSiteKey();
  const [shown, setShown] = useState("");
  const [looked, setLooked] = useState(0);
  const [finding, setFinding] = useState<Finding | null>(null);
  const [fault, setFault] = useState("");
  const ago = () => (performance.now() - looked) / 1000;
  const send = (site: string, keep: boolean) =>
    ask(
      client.POST("/api/sites/{key}/devices/{device}/clock", {
        params: { path: { key: site, device } },
        body: { shown, ago_s: ago(), keep },
      }),
    );
  const keep = useChange((site) => send(site, true));
  // biome-ignore lint/correctness/useExhaustiveDependencies: judged once for every look, not for every render
  useEffect(() => {
    if (!shown.trim()) return setFinding(null);
    let late = false;
    const timer = setTimeout(() => {
      send(key, false)
        .then((found) => {
          if (late) return;
          setFinding(found);
          setFault("");
        })
        .catch((error: Refused) => {
          if (late) return;
          setFinding(null);
          setFault(error.message);
        });
    }, 350);
    return () => {
      late = true;
      clearTimeout(timer);
    };
  }, [shown, looked, key]);

  function look(text: string) {
    setShown(text);
    setLooked(performance.now());
  }
  function submit(event: FormEvent) {
    event.preventDefault();
    if (finding)
      keep.mutate(undefined, {
        onSuccess: () => {
          setShown("");
          setFinding(null);
        },
      });
  }
  return (
    <form onSubmit={submit} aria-label={`Clock of ${name}`} className="grid gap-2">
      <label className="grid gap-1 text-small">
        What it shows now
        <input
          className="box w-64 font-mono"
          value={shown}
          placeholder={written(order, zone, face)}
          autoComplete="off"
          onChange={(event) => look(event.target.value)}
        />
      </label>
      <div className="flex flex-wrap gap-2">
        <button type="button" className="btn" onClick={() => look(written(order, zone, face))}>
          It shows the same as here
        </button>
        {shown && (
          <button type="button" className="btn" onClick={() => setLooked(performance.now())}>
            It shows this now
          </button>
        )}
        <button type="submit" className="btn btn-main" disabled={!finding || keep.isPending}>
          Save this reading
        </button>
      </div>
      <p aria-live="polite" className={`min-h-6 text-list ${fault ? "font-medium text-red" : ""}`}>
        {finding ? (
          <span className="flex items-center gap-2 font-semibold">
            <Mark name={MARKS[finding.finding] ?? "broken"} /> {finding.message}
          </span>
        ) : (
          fault || keep.error?.message
        )}
      </p>
    </form>
  );
}

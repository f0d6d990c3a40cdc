import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Refused, type Schemas } from "../../api/client";
import { useSiteKey } from "../../api/site";
import { Trouble } from "../../parts/Feedback";
import { useKeys } from "../../parts/keys";
import { Mark } from "../../parts/Mark";
import { type Draft, triedKey } from "../../parts/useTrial";
import { DaysBar, LittleBar } from "./bars";
import { Disks } from "./Disks";
import { Measured } from "./Measured";
import type { Recorder, Sheet, Trial } from "./Recording";
import { dailyWords, days } from "./words";

/** What a recorder writes a day, how long its disks hold that against what is promised, and what would help. */
export function Storage({
  recorder,
  recorders,
  shown,
  trial,
  choose,
}: {
  recorder: Recorder;
  recorders: Recorder[];
  shown: Sheet;
  trial: Trial;
  choose: (key: string) => void;
}) {
  const key = useSiteKey();
  const queries = useQueryClient();
  const pull = useMutation<Schemas["Pulled"], Refused, string>({
    mutationFn: (lever) =>
      ask(
        client.POST("/api/sites/{key}/recording/lever", {
          params: { path: { key } },
          body: { draft: trial.draft ?? {}, recorder: recorder.key, lever },
        }),
      ),
    onSuccess: ({ draft, sheet }) => {
      queries.setQueryData(triedKey(key, "recording", draft as Draft), sheet);
      trial.replace(draft as Draft);
    },
  });
  const levers = recorder.levers.slice(0, 7);
  useKeys(
    Object.fromEntries(
      levers.map((item, at) => [String(at + 1), () => !pull.isPending && pull.mutate(item.key)]),
    ),
  );
  const unknown = recorder.channels.filter((item) => item.bytes_per_day === null).length;
  const short =
    recorder.days !== null && recorder.wanted_days !== null && recorder.days < recorder.wanted_days;
  return (
    <>
      <h2 className="text-lead font-semibold">Storage</h2>
      {recorders.length > 1 ? (
        <select
          aria-label="Recorder"
          className="box mt-1 w-full"
          value={recorder.key}
          onChange={(event) => choose(event.target.value)}
        >
          {recorders.map((item) => (
            <option key={item.key} value={item.key}>
              {item.name}
              {item.days !== null && item.wanted_days !== null && item.days < item.wanted_days
                ? " (too small)"
                : ""}
            </option>
          ))}
        </select>
      ) : (
        <p className="text-list">{recorder.name}</p>
      )}
      <p className="mt-3 text-step font-bold">
        {dailyWords(recorder.bytes_per_day)} <span className="text-body font-normal text-ink-2">a day</span>
      </p>
      <table className="mt-1 w-full border-collapse text-note">
        <thead className="sr-only">
          <tr>
            <th>Channels</th>
            <th>GB each</th>
            <th>GB together</th>
          </tr>
        </thead>
        <tbody>
          {recorder.sums.map((row) => (
            <tr key={`${row.said} ${row.each}`} className="border-t border-hair align-top">
              <td className="py-0.5 leading-5">{row.said}</td>
              <td className="py-0.5 pl-2 text-right font-mono leading-5 whitespace-nowrap">
                {row.channels} × {(row.each / 1e9).toFixed(1)}
              </td>
              <td className="py-0.5 pl-2 text-right font-mono leading-5">
                {(row.together / 1e9).toFixed(1)}
              </td>
            </tr>
          ))}
          <tr className="border-t border-ink font-bold">
            <td colSpan={2} className="py-0.5">
              GB a day
            </td>
            <td className="py-0.5 text-right font-mono">{(recorder.bytes_per_day / 1e9).toFixed(1)}</td>
          </tr>
        </tbody>
      </table>
      {unknown > 0 && (
        <p className="flex items-start gap-2 pt-1 text-small font-semibold">
          <Mark name="unread" /> {unknown} {unknown === 1 ? "channel is" : "channels are"} not counted: rate
          or pattern not known.
        </p>
      )}
      <Disks recorder={recorder} shown={shown} trial={trial} />
      {recorder.days !== null && recorder.disks.length > 0 && (
        <DaysBar held={recorder.days} wanted={recorder.wanted_days} />
      )}
      {recorder.wanted_days === null && (
        <p className="text-small">How many days are wanted is not known: ask in the survey.</p>
      )}
      {pull.error && <Trouble error={pull.error} />}
      {levers.length > 0 && short && (
        <section aria-label="What would help">
          <h3 className="border-b border-hair pb-1 font-semibold text-ink-2">
            What would keep the {recorder.wanted_days} days
          </h3>
          <ol>
            {levers.map((item, at) => (
              <Lever
                key={item.key}
                item={item}
                at={at}
                pull={() => pull.mutate(item.key)}
                busy={pull.isPending}
                most={(recorder.wanted_days ?? 1) * 1.6}
              />
            ))}
          </ol>
        </section>
      )}
      <Measured recorder={recorder} trial={trial} />
    </>
  );
}

function Lever({
  item,
  at,
  pull,
  busy,
  most,
}: {
  item: Schemas["LeverRow"];
  at: number;
  pull: () => void;
  busy: boolean;
  most: number;
}) {
  const [told] = useState(item.wanted_days ?? 0);
  const held = item.days ?? 0;
  const wanted = item.wanted_days ?? told;
  return (
    <li className="border-b border-hair last:border-0">
      <button
        type="button"
        className="grid min-h-14 w-full grid-cols-[34px_minmax(0,1fr)_108px] items-center gap-1 py-1 text-left"
        onClick={pull}
        disabled={busy}
      >
        <kbd className="key mr-2 max-md:hidden">{at + 1}</kbd>
        <span className="min-w-0 max-md:col-span-2">
          <b className="block text-list font-semibold">{item.said}</b>
          <span className="block text-note text-ink-2">{item.detail}</span>
        </span>
        <span>
          <LittleBar held={held} wanted={wanted} most={most} />
          <span className="block text-note">
            <b className="font-semibold">{days(held)}</b>{" "}
            {item.keeps ? "keeps it" : `${(wanted - Math.floor(held * 10) / 10).toFixed(1)} short`}
          </span>
        </span>
      </button>
    </li>
  );
}

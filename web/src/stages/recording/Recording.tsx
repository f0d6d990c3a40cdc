import { useSearchParams } from "react-router";
import { ask, client, type Refused, type Schemas } from "../../api/client";
import { useSheet, useSiteKey } from "../../api/site";
import { Empty } from "../../parts/Feedback";
import { Page, Problems } from "../../parts/Page";
import { PartTabs } from "../../parts/PartTabs";
import { StageNext } from "../../parts/StageNext";
import { slug } from "../../parts/slug";
import { TrialBar, TrialTrouble } from "../../parts/Trying";
import { useTrial, useTried } from "../../parts/useTrial";
import { Channels } from "./Channels";
import { Patterns } from "./Patterns";
import { Rules } from "./Rules";
import { Storage } from "./Storage";
import type { Week } from "./week";
import { dailyWords, days } from "./words";

export type Sheet = Schemas["RecordingSheet"];
export type Recorder = Schemas["RecorderRow"];
export type Pattern = { key: string; name?: string; week: Week };
/** How the site records, as the document has it. */
export type Whole = {
  patterns?: Pattern[];
  usual?: string | null;
  channels?: Record<string, unknown>[];
  [name: string]: unknown;
};
export type Trial = ReturnType<typeof useTrial>;
const PARTS = { week: "Week", channels: "Channels", rules: "Files and sound" } as const;
type Part = keyof typeof PARTS;

/** What is recorded when, by which channel, and how long it is kept. */
export function Recording() {
  const sheet = useSheet("recording");
  const site = useSiteKey();
  const trial = useTrial(sheet.data?.was);
  const tried = useTried<Sheet>("recording", trial.draft, (key, draft) =>
    ask(client.POST("/api/sites/{key}/recording/preview", { params: { path: { key } }, body: draft })),
  );
  const [search, setSearch] = useSearchParams();
  const part = (search.get("part") ?? "week") as Part;
  const go = (parts: Record<string, string | null>) => {
    const next = new URLSearchParams(search);
    for (const [name, value] of Object.entries(parts))
      if (value === null) next.delete(name);
      else next.set(name, value);
    setSearch(next, { replace: true });
  };
  const stored = sheet.data;
  const shown = (trial.draft ? tried.data : undefined) ?? stored;
  const recorded = shown?.recorders.some((item) => item.channels.length > 0) ?? false;
  return (
    <>
      <Page
        title="Recording"
        fetched={sheet}
        aside={
          recorded && (
            <PartTabs
              label="Parts of the recordings"
              parts={PARTS}
              part={part}
              show={(name) => go({ part: name === "week" ? null : name })}
            />
          )
        }
      >
        {() =>
          shown && recorded ? (
            <Sheets
              key={site}
              shown={shown}
              trial={trial}
              tried={tried.error}
              part={part}
              search={search}
              go={go}
            />
          ) : (
            <Empty title="Nothing is recorded here">
              Link a camera to a recorder first; then its channel is here.
            </Empty>
          )
        }
      </Page>
      {shown && recorded && stored && (
        <Next stored={stored} shown={shown} trial={trial} wrong={tried.error !== null} go={go} />
      )}
      {shown && !recorded && <StageNext stage="recording" acts={() => undefined} />}
    </>
  );
}

export type Go = (parts: Record<string, string | null>) => void;

function Sheets({
  shown,
  trial,
  tried,
  part,
  search,
  go,
}: {
  shown: Sheet;
  trial: Trial;
  tried: Refused | null;
  part: Part;
  search: URLSearchParams;
  go: Go;
}) {
  const whole = (trial.draft?.recording ?? shown.recording ?? {}) as Whole;
  const recorders = shown.recorders.filter((item) => item.channels.length > 0 || item.disks.length > 0);
  const wanted = search.get("recorder");
  const worst = [...recorders].sort((one, two) => shortOf(two) - shortOf(one))[0];
  const recorder = recorders.find((item) => item.key === wanted) ?? worst;
  return (
    <div className="flex flex-col gap-6 pt-2 xl:flex-row">
      <div className="min-w-0 flex-1">
        <TrialTrouble error={tried} trial={trial} />
        {part === "week" && <Patterns shown={shown} whole={whole} trial={trial} search={search} go={go} />}
        {part === "channels" && <Channels shown={shown} whole={whole} trial={trial} />}
        {part === "rules" && <Rules shown={shown} whole={whole} trial={trial} />}
        <div className="mt-4">
          <Problems problems={shown.problems.filter((item) => !(part === "week" && MENDED.has(item.code)))} />
        </div>
      </div>
      {recorder && (
        <aside aria-label="Storage" className="slip w-full self-start xl:w-82 xl:shrink-0">
          <Storage
            key={recorder.key}
            recorder={recorder}
            recorders={recorders}
            shown={shown}
            trial={trial}
            choose={(key) => go({ recorder: key })}
          />
        </aside>
      )}
    </div>
  );
}

/** What is said beside the week, where it can be mended. */
const MENDED = new Set([
  "recording.gap",
  "recording.overlap",
  "recording.past-midnight",
  "recording.backwards",
  "recording.too-small",
]);

function shortOf(recorder: Recorder): number {
  if (recorder.wanted_days === null) return 0;
  return recorder.days === null ? 0 : recorder.wanted_days - recorder.days;
}

function Next({
  stored,
  shown,
  trial,
  wrong,
  go,
}: {
  stored: Sheet;
  shown: Sheet;
  trial: Trial;
  wrong: boolean;
  go: Go;
}) {
  if (trial.draft) return <TrialBar trial={trial} wrong={wrong} detail={effect(stored, shown)} />;
  return (
    <StageNext
      stage="recording"
      acts={({ act, subjects: [subject] }) => {
        if (act === "disk")
          return { label: "Look at the disks", run: () => go({ recorder: subject ?? null, open: "disks" }) };
        if (act !== "pattern") return undefined;
        const mend = shown.patterns.find((item) => item.key === subject)?.mends[0];
        if (shown.recording === null)
          return { label: "All day is right", run: () => trial.change({ recording: { usual: null } }) };
        if (!mend || !subject)
          return { label: "Look at the week", run: () => go({ part: null, pattern: subject ?? null }) };
        return {
          label: mend.press,
          run: () => trial.change({ recording: mended(shown, subject, mend.week as Week) }),
        };
      }}
    />
  );
}

/** How the site records with a mended week of one pattern. */
export function mended(shown: Sheet, pattern: string, week: Week): Record<string, unknown> {
  const whole = (shown.recording ?? {}) as Whole;
  const patterns = (whole.patterns ?? []).map((item) => (item.key === pattern ? { ...item, week } : item));
  return { ...whole, patterns };
}

/** A key for a new pattern that no other one has. */
export function freeKey(whole: Whole, name: string): string {
  const taken = new Set((whole.patterns ?? []).map((item) => item.key));
  const base = slug(name) || "pattern";
  let key = base;
  for (let number = 2; taken.has(key); number += 1) key = `${base}-${number}`;
  return key;
}

/** What a draft does to what is written and held. */
function effect(stored: Sheet, shown: Sheet): string {
  const sum = (sheet: Sheet) => sheet.recorders.reduce((all, item) => all + item.bytes_per_day, 0);
  const more = sum(shown) - sum(stored);
  const written =
    Math.abs(more) < 5e6
      ? ""
      : more > 0
        ? `Adds ${dailyWords(more)} a day.`
        : `Saves ${dailyWords(-more)} a day.`;
  const held = shown.recorders
    .filter((item) => item.wanted_days !== null && item.days !== null)
    .filter((item) => {
      const was = stored.recorders.find((one) => one.key === item.key);
      return was?.days !== item.days && (shortOf(item) > 0 || (was && shortOf(was) > 0));
    })
    .slice(0, 2)
    .map((item) => `${item.name} then holds ${days(item.days ?? 0)} of ${item.wanted_days}.`);
  return [written, ...held].filter(Boolean).join(" ");
}

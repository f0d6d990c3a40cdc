import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSheet, useSiteKey } from "../../api/site";
import { Choice } from "../../parts/Choice";
import { DeviceLink } from "../../parts/DeviceLink";
import { dayOf } from "../../parts/dates";
import { Empty, Trouble } from "../../parts/Feedback";
import { State } from "../../parts/Mark";
import { NextBar } from "../../parts/NextBar";
import { Page } from "../../parts/Page";
import { PartTabs } from "../../parts/PartTabs";
import { Change } from "./Change";
import { WhenRecorded } from "./WhenRecorded";

export type Sheet = Schemas["LaterSheet"];
export type ChangeRow = Sheet["changes"][number];
export type Act =
  | { do: "begin"; body: Schemas["NewChange"] }
  | { do: "step"; id: number; step: string; body: Schemas["ChangeTick"] }
  | { do: "unit"; id: number; body: Schemas["NewUnit"] }
  | { do: "give-up"; id: number; reason: string };

const PARTS = { changes: "Changes", diary: "Diary", footage: "When was it recorded?" } as const;
type Part = keyof typeof PARTS;

function useActs() {
  return useChange<Act, Sheet>((key, act) => {
    if (act.do === "begin")
      return ask(
        client.POST("/api/sites/{key}/later/changes", { params: { path: { key } }, body: act.body }),
      );
    const path = { key, number: act.id };
    if (act.do === "step")
      return ask(
        client.PUT("/api/sites/{key}/later/changes/{number}/steps/{step}", {
          params: { path: { ...path, step: act.step } },
          body: act.body,
        }),
      );
    if (act.do === "unit")
      return ask(
        client.PUT("/api/sites/{key}/later/changes/{number}/unit", { params: { path }, body: act.body }),
      );
    return ask(
      client.PUT("/api/sites/{key}/later/changes/{number}/given-up", {
        params: { path },
        body: { reason: act.reason },
      }),
    );
  }, "later");
}

/** What comes later: changes of devices step by step, the diary, and when a recording was made. */
export function Later() {
  const sheet = useSheet("later");
  const acts = useActs();
  const [search, setSearch] = useSearchParams();
  const part = (search.get("part") ?? "changes") as Part;
  const data = sheet.data;
  const under = data?.changes.filter((change) => change.over === null) ?? [];
  const chosen =
    data?.changes.find((change) => String(change.id) === search.get("change")) ??
    under[0] ??
    data?.changes[0];
  const next = chosen?.steps.find((step) => step.state === "open");
  const due = data?.diary.find((entry) => entry.due) ?? data?.diary[0];
  return (
    <>
      <Page
        title="Later"
        fetched={sheet}
        aside={
          <PartTabs
            label="Parts of later"
            parts={PARTS}
            part={part}
            show={(shown) => setSearch({ part: shown }, { replace: true })}
          />
        }
      >
        {(found) =>
          found.empty ? (
            <Empty title="There is nothing to change yet">The kit holds no device.</Empty>
          ) : (
            <div className="pt-2">
              {acts.error && <Trouble error={acts.error} />}
              {part === "diary" && <Diary entries={found.diary} />}
              {part === "footage" && <WhenRecorded sheet={found} />}
              {part === "changes" && (
                <div className="grid gap-x-8 gap-y-6 xl:grid-cols-[25rem_minmax(0,1fr)]">
                  <div className="grid content-start gap-6">
                    <Begin
                      key={found.changes.length}
                      sheet={found}
                      device={search.get("device") ?? ""}
                      act={acts.mutate}
                      busy={acts.isPending}
                    />
                    <List
                      changes={found.changes}
                      chosen={chosen}
                      show={(id) => setSearch({ change: String(id) }, { replace: true })}
                    />
                  </div>
                  {chosen ? (
                    <Change key={chosen.id} change={chosen} act={acts.mutate} busy={acts.isPending} />
                  ) : (
                    <p className="text-ink-2">No change is under way.</p>
                  )}
                </div>
              )}
            </div>
          )
        }
      </Page>
      {data && !data.empty && (
        <NextBar
          sentence={
            part === "changes" && next && chosen
              ? `${chosen.name}: ${next.title}.`
              : due
                ? `${due.due ? "Due" : "Next"}: ${due.title}.`
                : "Nothing is due."
          }
          detail={
            part === "changes" && next
              ? `${chosen?.open} steps are open.`
              : due && !due.due
                ? `On ${dayOf(due.at)}.`
                : undefined
          }
        />
      )}
    </>
  );
}

function Begin({
  sheet,
  device,
  act,
  busy,
}: {
  sheet: Sheet;
  device: string;
  act: (act: Act) => void;
  busy: boolean;
}) {
  const [kind, setKind] = useState(sheet.kinds[0]?.value ?? "replace");
  const [of, setOf] = useState(device);
  const site = kind === "take-over";
  return (
    <form
      aria-labelledby="begin"
      className="slip grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        act({
          do: "begin",
          body: { kind: kind as Schemas["NewChange"]["kind"], device: site ? null : of },
        });
      }}
    >
      <h2 id="begin" className="text-lead font-semibold">
        Begin a change
      </h2>
      <Choice label="what happens" options={sheet.kinds} value={kind} set={setKind} box="w-full min-w-0" />
      {!site && (
        <Choice
          label="which device"
          options={sheet.devices}
          value={of}
          set={setOf}
          none="choose"
          box="w-full min-w-0"
        />
      )}
      <button type="submit" className="btn justify-self-start" disabled={busy || (!site && !of)}>
        Show the steps
      </button>
    </form>
  );
}

function List({
  changes,
  chosen,
  show,
}: {
  changes: ChangeRow[];
  chosen: ChangeRow | undefined;
  show: (id: number) => void;
}) {
  if (changes.length === 0) return null;
  return (
    <nav aria-label="Changes">
      <ul>
        {changes.map((change) => (
          <li key={change.id} className="border-t border-hair">
            <button
              type="button"
              aria-current={change.id === chosen?.id ? "true" : undefined}
              className={`flex min-h-11 w-full items-center justify-between gap-3 px-2 text-left ${
                change.id === chosen?.id ? "bg-wash font-bold" : ""
              }`}
              onClick={() => show(change.id)}
            >
              <span className="min-w-0">
                <span className="block truncate">{change.name}</span>
                <span className="block truncate text-small font-normal text-ink-2">
                  {change.word.split(":")[0]}, {dayOf(change.begun)}
                </span>
              </span>
              <span className="text-small font-normal whitespace-nowrap text-ink-2">
                {change.given_up ? "given up" : change.over ? "over" : `${change.open} open`}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </nav>
  );
}

function Diary({ entries }: { entries: Sheet["diary"] }) {
  const site = useSiteKey();
  return (
    <>
      <p className="flex flex-wrap items-center gap-x-6 text-small text-ink-2">
        Three years ahead. The handover pack holds the same as a calendar.
        <a href={`/api/sites/${site}/files/diary.ics`} download>
          As a calendar (iCalendar)
        </a>
        <Link to={`/sites/${site}/asked`} className="inline-flex min-h-11 items-center">
          Questions to others
        </Link>
      </p>
      {entries.length === 0 && <p className="py-3">Nothing is due.</p>}
      <ol aria-label="Diary">
        {entries.map((entry) => (
          <li
            key={entry.key}
            className="grid gap-x-4 border-t border-hair py-2 md:grid-cols-[8rem_minmax(0,1fr)]"
          >
            <time dateTime={entry.at} className="text-small text-ink-2">
              {entry.due ? <State name="off">due now</State> : dayOf(entry.at)}
            </time>
            <div className="min-w-0">
              <p className="font-semibold">
                {entry.subject ? <DeviceLink device={entry.subject}>{entry.title}</DeviceLink> : entry.title}
              </p>
              <About text={entry.about} />
            </div>
          </li>
        ))}
      </ol>
    </>
  );
}

const LINES = 4; // of what is looked at on a day; the rest folds

function About({ text }: { text: string }) {
  const lines = text.split("\n").filter(Boolean);
  const line = (words: string) => (
    <p key={words} className="text-small text-ink-2 [overflow-wrap:anywhere]">
      {words}
    </p>
  );
  return (
    <>
      {lines.slice(0, LINES).map(line)}
      {lines.length > LINES && (
        <details>
          <summary className="min-h-11 cursor-pointer py-2.5 text-small">{lines.length - LINES} more</summary>
          {lines.slice(LINES).map(line)}
        </details>
      )}
    </>
  );
}

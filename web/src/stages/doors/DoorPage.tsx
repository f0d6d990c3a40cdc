import { useEffect, useState } from "react";
import { ask, client, type Refused, type Schemas } from "../../api/client";
import { useChange } from "../../api/site";
import { Caution } from "../../parts/Caution";
import { Trouble } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";
import { Problems } from "../../parts/Page";
import { Witness } from "../../parts/Witness";
import { DoorDrawing, LittleWay } from "./Circuit";
import { DoorForm } from "./DoorForm";
import type { Door, Go, Sheet } from "./Doors";
import { Inputs } from "./Inputs";
import { Pretending } from "./Pretending";

type Test = Schemas["DoorTestRow"];
type Way = Schemas["CircuitRow"];

/** One door: drawn as it is met, its tests one after the other, whether it is held open, who may pass. */
export function DoorPage({ door, sheet, go }: { door: Door; sheet: Sheet; go: Go }) {
  const first = door.tests.find((test) => !done(test));
  const [open, setOpen] = useState<string | null>(first?.key ?? null);
  const [editing, setEditing] = useState(false);
  const [pretend, setPretend] = useState<Way | null>(null);
  const chosen = door.tests.find((test) => test.key === open);
  const watched = sheet.inputs.find((item) => item.panel === door.panel);
  const resting: Way = {
    supply: true,
    fire: true,
    glass: true,
    relay: door.relay !== "no",
    holds: null,
  };
  const rest = door.tests.find((test) => test.key === "normal")?.circuit ?? resting;
  return (
    <div className="flex flex-col gap-6 pt-2 xl:flex-row">
      <div className="min-w-0 flex-1">
        <p className="flex flex-wrap items-center gap-x-3 text-ink-2">
          {[door.place, door.normal && `usually ${door.normal}`, door.escape && "an escape route"]
            .filter(Boolean)
            .join("; ")}
          <button
            type="button"
            className="min-h-11 text-small underline underline-offset-4"
            onClick={() => setEditing(!editing)}
          >
            Change the door
          </button>
        </p>
        {editing ? (
          <DoorForm door={door} sheet={sheet} close={() => setEditing(false)} />
        ) : (
          <>
            <div className="overflow-x-auto">
              <div className="min-w-160">
                <DoorDrawing door={door} way={pretend ?? chosen?.circuit ?? rest} />
              </div>
            </div>
            <p
              className={`flex items-start gap-2 text-small ${door.wrong_sense ? "font-semibold text-red" : ""}`}
            >
              {door.wrong_sense && <Mark name="broken" />}
              {door.sense}
            </p>
          </>
        )}
        <Problems problems={door.problems} />
        {door.tests.length === 0 ? (
          <p className="py-4 text-ink-2">Say at which panel it hangs; then its tests stand here.</p>
        ) : (
          <ol className="mt-3 border-t-2 border-ink" aria-label={`Tests of ${door.name}`}>
            {door.tests.map((test) => (
              <TestRow
                key={test.key}
                test={test}
                door={door}
                practice={sheet.practice}
                open={test.key === open}
                show={() => {
                  setPretend(null);
                  setOpen(test.key === open ? null : test.key);
                }}
                next={() => {
                  const at = door.tests.findIndex((item) => item.key === test.key);
                  setPretend(null);
                  setOpen(door.tests.slice(at + 1).find((item) => !done(item))?.key ?? null);
                }}
                played={setPretend}
              />
            ))}
          </ol>
        )}
      </div>
      <aside aria-label="State of the door" className="slip w-full self-start xl:w-82 xl:shrink-0">
        <HeldOpen door={door} />
        {door.escape && (
          <p className="mt-4 border-t-2 border-ink pt-3 text-small">
            <b>Escape route.</b> From inside this door must open by hand, without card, power or network.{" "}
            {sheet.escape_caution}
          </p>
        )}
        {watched && <Inputs key={watched.panel} panel={watched} />}
        <p className="mt-4 border-t border-hair pt-2">
          <button
            type="button"
            className="min-h-11 underline underline-offset-4"
            onClick={() => go({ part: "access" })}
          >
            Who may pass
          </button>
        </p>
      </aside>
    </div>
  );
}

function done(test: Test): boolean {
  return test.result === "pass" && !test.stale;
}

function TestRow({
  test,
  door,
  practice,
  open,
  show,
  next,
  played,
}: {
  test: Test;
  door: Door;
  practice: boolean;
  open: boolean;
  show: () => void;
  next: () => void;
  played: (way: Way) => void;
}) {
  const [person, setPerson] = useState("");
  const keep = useChange<{ result: "pass" | "fail"; words: string }, unknown>((key, { result, words }) =>
    ask(
      client.POST("/api/sites/{key}/devices/{device}/checks/{check}/seen", {
        params: { path: { key, device: door.panel ?? "", check: test.check } },
        body: { result, words, person },
      }),
    ),
  );
  const waits = door.unlocked !== null;
  return (
    <li className={open ? "border-y-2 border-brass-fill bg-brass-wash px-2" : "border-b border-hair"}>
      <button
        type="button"
        className="grid min-h-11 w-full grid-cols-[minmax(0,1fr)_auto] items-center gap-x-4 text-left md:grid-cols-[190px_204px_minmax(0,1fr)_170px]"
        aria-expanded={open}
        disabled={keep.isPending} // what is kept opens the next one; until then a press would be lost
        onClick={show}
      >
        <b className="font-semibold">{test.title}</b>
        <span className="max-md:hidden">
          <LittleWay way={test.circuit} fire={door.fire} glass={door.escape} />
        </span>
        <span className="text-small max-md:col-span-2 max-md:row-start-2 max-md:pb-2">{test.expect}</span>
        <span className="flex items-center gap-2 text-small">
          {test.result === null ? (
            <>
              <Mark name={open ? "turn" : "planned"} /> {open ? "now" : "not seen yet"}
            </>
          ) : test.stale ? (
            <>
              <Mark name="off" /> changed since
            </>
          ) : (
            <>
              <Mark name={test.result === "pass" ? "set" : "broken"} />
              <b className="truncate">{test.by}</b>
              {test.at && <span className="font-mono">{test.at.slice(11, 16)}</span>}
            </>
          )}
        </span>
      </button>
      {open && (
        <div className="pb-3 md:pl-2">
          <p className="pb-2 text-body">
            {test.do} <span className="text-ink-2">Expect: {test.expect}.</span>
          </p>
          {test.words && test.result === "fail" && <p className="pb-2 text-small">Seen: {test.words}.</p>}
          {test.named && (
            <div className="pb-2">
              <Caution>
                Try it without power, card and code; local fire code and licensed people decide.
              </Caution>
            </div>
          )}
          {waits ? (
            <p className="flex items-center gap-2 font-semibold">
              <Mark name="off" /> The door is held open for set-up; lock it first, else this test tells
              nothing.
            </p>
          ) : (
            <>
              {practice && <Pretending door={door.key} test={test.key} played={played} />}
              <Witness
                name={test.title}
                draft={`door.${door.key}.${test.key}`}
                pending={keep.isPending}
                error={keep.error}
                keep={(result, words, finished) =>
                  keep.mutate(
                    { result, words },
                    {
                      onSuccess: () => {
                        finished();
                        next();
                      },
                    },
                  )
                }
                ready={!test.named || person.trim() !== ""}
                big
              >
                {test.named && (
                  <label className="grid max-w-96 gap-1 text-small font-semibold">
                    Who tried it
                    <input
                      className="box font-normal"
                      value={person}
                      maxLength={200}
                      onChange={(event) => setPerson(event.target.value)}
                    />
                  </label>
                )}
              </Witness>
            </>
          )}
        </div>
      )}
    </li>
  );
}

/** Whether the door is held open for set-up, until when, and who stands there. */
function HeldOpen({ door }: { door: Door }) {
  const [guard, setGuard] = useState("");
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 5_000);
    return () => clearInterval(timer);
  }, []);
  const unlock = useChange<number, unknown>((key, minutes) =>
    ask(
      client.POST("/api/sites/{key}/doors/{door}/unlocked", {
        params: { path: { key, door: door.key } },
        body: { minutes, guard: door.unlocked?.guard ?? guard },
      }),
    ),
  );
  const lock = useChange<void, unknown>((key) =>
    ask(
      client.DELETE("/api/sites/{key}/doors/{door}/unlocked", { params: { path: { key, door: door.key } } }),
    ),
  );
  const held = door.unlocked;
  const left = held ? Math.ceil((new Date(held.until).getTime() - now) / 60_000) : 0;
  const error: Refused | null = unlock.error ?? lock.error;
  if (held)
    return (
      <div className="-m-5 mb-0 bg-brass-wash p-5" role="status">
        <h2 className="flex items-center gap-2 font-semibold text-brass">
          <Mark name="loose" /> Held open for set-up
        </h2>
        <p className="text-step font-bold">
          {left > 0 ? left : 0} min <span className="text-body font-normal text-ink-2">left</span>
        </p>
        <p className="text-small">
          Since {held.since.slice(11, 16)} UTC by {held.by}. {held.guard} stands at the door.
          {left <= 0 && " The time is over: lock it now."}
        </p>
        <span className="flex flex-wrap gap-2 pt-2">
          <button
            type="button"
            className="btn btn-main"
            onClick={() => lock.mutate()}
            disabled={lock.isPending}
          >
            It is locked again
          </button>
          <button type="button" className="btn" onClick={() => unlock.mutate(15)} disabled={unlock.isPending}>
            15 minutes
          </button>
        </span>
        {error && <Trouble error={error} />}
      </div>
    );
  return (
    <div>
      <h2 className="flex items-center gap-2 text-lead font-semibold">
        <Mark name="set" /> Not held open
      </h2>
      <label className="mt-2 grid gap-1 text-small">
        Held open for set-up? Who stands at the door
        <input
          className="box"
          value={guard}
          maxLength={200}
          onChange={(event) => setGuard(event.target.value)}
        />
      </label>
      <button
        type="button"
        className="btn mt-2"
        disabled={!guard.trim() || unlock.isPending}
        onClick={() => unlock.mutate(30)}
      >
        Hold it open for 30 min
      </button>
      {error && <Trouble error={error} />}
    </div>
  );
}

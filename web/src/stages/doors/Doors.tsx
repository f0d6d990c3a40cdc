import { useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { useSheet } from "../../api/site";
import { Empty } from "../../parts/Feedback";
import { Page } from "../../parts/Page";
import { PartTabs } from "../../parts/PartTabs";
import { StageNext } from "../../parts/StageNext";
import { Access } from "./Access";
import { AlarmPart } from "./AlarmPart";
import { DoorForm } from "./DoorForm";
import { DoorPage } from "./DoorPage";

export type Sheet = Schemas["DoorsSheet"];
export type Door = Schemas["DoorRow"];
export type Go = (parts: Record<string, string | null>) => void;
const PARTS = { doors: "Doors", access: "Who may pass", alarm: "Alarm" } as const;
type Part = keyof typeof PARTS;

/** Each door as it is met, who may open it when, and the alarm. */
export function Doors() {
  const sheet = useSheet("doors");
  const [search, setSearch] = useSearchParams();
  const part = (search.get("part") ?? "doors") as Part;
  const go: Go = (parts) => {
    const next = new URLSearchParams(search);
    for (const [name, value] of Object.entries(parts))
      if (value === null) next.delete(name);
      else next.set(name, value);
    setSearch(next, { replace: true });
  };
  const doors = sheet.data?.doors ?? [];
  const chosen =
    doors.find((door) => door.key === search.get("door")) ??
    doors.find((door) => door.open_tests > 0) ??
    doors[0];
  return (
    <>
      <Page
        title="Doors"
        fetched={sheet}
        aside={
          <PartTabs
            label="Parts of the doors"
            parts={PARTS}
            part={part}
            show={(name) => go({ part: name === "doors" ? null : name })}
          />
        }
      >
        {(data) => (
          <>
            {part === "access" && <Access search={search} go={go} />}
            {part === "alarm" && <AlarmPart />}
            {part === "doors" && (
              <>
                <DoorTabs doors={doors} chosen={chosen} go={go} adding={search.get("open") === "new"} />
                {search.get("open") === "new" ? (
                  <DoorForm sheet={data} close={(key) => go({ open: null, ...(key ? { door: key } : {}) })} />
                ) : chosen ? (
                  <DoorPage key={chosen.key} door={chosen} sheet={data} go={go} />
                ) : (
                  <Empty title="No door is written down yet">
                    A door has a lock, a way out, and a panel that knows it.
                    {data.loose.length > 0 && ` The survey names ${data.loose.join(", ")}.`}
                  </Empty>
                )}
              </>
            )}
          </>
        )}
      </Page>
      {sheet.data && (
        <StageNext
          stage="doors"
          acts={({ act, subjects: [subject] }) => {
            if (act === "sent")
              return { label: "Look at what is sent", run: () => go({ part: "access", open: "sent" }) };
            if (act === "alarm") return { label: "Go to the alarm", run: () => go({ part: "alarm" }) };
            if (act !== "door") return undefined;
            const there = doors.some((door) => door.key === subject);
            return {
              label: there ? "Go to the door" : "Look at it",
              run: () => go(there ? { part: null, door: subject ?? null } : { part: "access" }),
            };
          }}
        />
      )}
    </>
  );
}

function DoorTabs({
  doors,
  chosen,
  go,
  adding,
}: {
  doors: Door[];
  chosen: Door | undefined;
  go: Go;
  adding: boolean;
}) {
  return (
    <div className="flex flex-wrap items-center gap-x-1 border-b border-hair">
      {doors.length > 12 ? (
        <select
          aria-label="Door"
          className="box my-2"
          value={chosen?.key ?? ""}
          onChange={(event) => go({ door: event.target.value, open: null })}
        >
          {doors.map((door) => (
            <option key={door.key} value={door.key}>
              {door.name} ({door.open_tests} open)
            </option>
          ))}
        </select>
      ) : (
        doors.map((door) => (
          <button
            key={door.key}
            type="button"
            aria-pressed={!adding && door.key === chosen?.key}
            className={`flex min-h-11 items-baseline gap-2 px-3 py-2 ${!adding && door.key === chosen?.key ? "border-b-2 border-ink font-bold" : "font-medium"}`}
            onClick={() => go({ door: door.key, open: null })}
          >
            <span className="max-w-56 truncate">{door.name}</span>
            <span className="text-small font-normal text-ink-2">
              {door.open_tests > 0 ? `${door.open_tests} open` : "tried"}
            </span>
          </button>
        ))
      )}
      <button
        type="button"
        className="ml-auto min-h-11 px-2 text-small underline underline-offset-4"
        onClick={() => go({ open: "new" })}
      >
        New door
      </button>
    </div>
  );
}

import { useQuery } from "@tanstack/react-query";
import { memo, useDeferredValue, useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSiteKey } from "../../api/site";
import { Loading, Trouble } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";
import { Problems } from "../../parts/Page";
import { SearchBox } from "../../parts/SearchBox";
import { Asking } from "./Asking";
import type { Go } from "./Doors";
import { FrameList } from "./Frames";
import { ImportPeople } from "./ImportPeople";
import { PersonSlip } from "./PersonSlip";
import { RuleForm } from "./RuleForm";

export type AccessSheet = Schemas["AccessSheet"];
export type Person = Schemas["PersonShort"];
export type Rule = { key: string; name?: string; people: string[]; doors: string[]; frame?: string | null };

/** Who may open what when: the grid of groups, one question, people and cards, what was sent. */
export function Access({ search, go }: { search: URLSearchParams; go: Go }) {
  const key = useSiteKey();
  const [typed, setTyped] = useState("");
  const words = useDeferredValue(typed);
  const sheet = useQuery({
    queryKey: ["site", key, "access", words],
    queryFn: () =>
      ask(client.GET("/api/sites/{key}/access", { params: { path: { key }, query: { search: words } } })),
    placeholderData: (before) => before,
  });
  const chosen = search.get("person");
  if (!sheet.data)
    return sheet.error ? (
      <Trouble error={sheet.error} retry={() => sheet.refetch()} />
    ) : (
      <Loading what="who may pass" />
    );
  const data = sheet.data;
  const person = data.people.find((item) => item.key === chosen);
  return (
    <div className="flex flex-col gap-6 pt-2 xl:flex-row">
      <div className="min-w-0 flex-1">
        <Rules data={data} />
      </div>
      <aside aria-label="People" className="slip w-full self-start xl:w-96 xl:shrink-0">
        {chosen === "new" || person ? (
          <PersonSlip
            key={chosen}
            person={person}
            data={data}
            close={() => go({ person: null })}
            taken={data.people_in_all}
          />
        ) : (
          <>
            <div className="flex flex-wrap items-end justify-between gap-2">
              <h2 className="text-lead font-semibold">People</h2>
              <button
                type="button"
                className="min-h-11 text-small underline underline-offset-4"
                onClick={() => go({ person: "new" })}
              >
                New person
              </button>
            </div>
            <SearchBox label="Name, group or card" value={typed} search={setTyped} />
            <p className="py-1 text-small text-ink-2">
              {data.people_found} of {data.people_in_all}
              {data.people_found > data.people.length && `; the first ${data.people.length} are shown`}
            </p>
            <ul className="max-h-96 overflow-auto">
              {data.people.map((item) => (
                <li key={item.key} className="border-t border-hair">
                  <button
                    type="button"
                    className="flex min-h-11 w-full items-center justify-between gap-2 text-left"
                    onClick={() => go({ person: item.key })}
                  >
                    <span className="min-w-0 truncate">
                      <b className="font-semibold">{item.name}</b>{" "}
                      <span className="text-small text-ink-2">{item.groups.join(", ")}</span>
                    </span>
                    <span className="shrink-0 text-small">
                      {item.over ? "over" : item.cards === 0 ? (item.lost ? "card lost" : "no card") : ""}
                    </span>
                  </button>
                </li>
              ))}
            </ul>
            <ImportPeople />
          </>
        )}
      </aside>
    </div>
  );
}

/** Everything but the people; drawn again only when the sheet is another, not when a person is chosen. */
const Rules = memo(function Rules({ data }: { data: AccessSheet }) {
  return (
    <>
      <Asking data={data} />
      <Grid data={data} />
      <Sending standings={data.standings} />
      <div className="mt-4">
        <Problems problems={data.problems.filter((item) => item.code !== "access.not-sent")} />
      </div>
      <FrameList data={data} />
    </>
  );
});

/** Groups of people against groups of doors: what stands where they cross lets them through. */
function Grid({ data }: { data: AccessSheet }) {
  const [open, setOpen] = useState<{ rule: Rule | null; people?: string; doors?: string } | null>(null);
  const cells = new Map(data.cells.map((cell) => [`${cell.people} ${cell.doors}`, cell]));
  const rules = data.rules as Rule[];
  return (
    <section aria-label="Who may open what" className="mt-4">
      <h2 className="font-semibold">Who may open what</h2>
      {data.people_groups.length === 0 || data.door_groups.length === 0 ? (
        <p className="py-2 text-ink-2">
          Groups of people and of doors stand here once people and doors have them.
        </p>
      ) : (
        <div className="overflow-x-auto">
          <table className="mt-1 border-collapse text-small">
            <thead>
              <tr>
                <th className="text-left font-normal text-ink-2">people</th>
                {data.door_groups.map((group) => (
                  <th
                    key={group.key}
                    scope="col"
                    className="min-w-24 px-2 text-left align-bottom font-semibold"
                  >
                    {group.name}
                    <span className="block text-cell font-normal text-ink-2">
                      {group.members} {group.members === 1 ? "door" : "doors"}
                    </span>
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {data.people_groups.map((people) => (
                <tr key={people.key} className="border-t border-hair">
                  <th scope="row" className="max-w-48 truncate py-1 pr-3 text-left font-semibold">
                    {people.name} <span className="font-normal text-ink-2">{people.members}</span>
                  </th>
                  {data.door_groups.map((doors) => {
                    const cell = cells.get(`${people.key} ${doors.key}`);
                    return (
                      <td key={doors.key} className="px-1 py-1">
                        <button
                          type="button"
                          className={`min-h-11 w-full border px-2 text-left ${cell ? "border-kelp bg-kelp-wash" : "border-dashed border-hair text-ink-2"}`}
                          aria-label={`${people.name}, ${doors.name}: ${cell ? cell.frames.join(" and ") : "no rule"}`}
                          onClick={() =>
                            setOpen({
                              rule: rules.find((rule) => rule.key === cell?.rules[0]) ?? null,
                              people: people.key,
                              doors: doors.key,
                            })
                          }
                        >
                          {cell ? cell.frames.join(", ") : "–"}
                        </button>
                      </td>
                    );
                  })}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {open ? (
        <RuleForm
          key={open.rule?.key ?? `${open.people} ${open.doors}`}
          rule={open.rule}
          people={open.people}
          doors={open.doors}
          data={data}
          close={() => setOpen(null)}
        />
      ) : (
        <button
          type="button"
          className="min-h-11 text-small underline underline-offset-4"
          onClick={() => setOpen({ rule: null })}
        >
          New rule
        </button>
      )}
    </section>
  );
}

/** What each panel has to know, and whether that was sent: after any change somebody sends it and ticks that. */
function Sending({ standings }: { standings: Schemas["PanelStanding"][] }) {
  const tick = useChange<Schemas["SentTick"], unknown>((key, body) =>
    ask(client.POST("/api/sites/{key}/access/sent", { params: { path: { key } }, body })),
  );
  if (standings.length === 0) return null;
  return (
    <section aria-label="Sent to the panels" className="mt-4">
      <h2 className="border-b-2 border-ink font-semibold">Sent to the panels</h2>
      <ul>
        {standings.map((item) => (
          <li
            key={item.panel}
            className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-hair py-2"
          >
            <span className="flex items-center gap-2">
              <Mark name={item.is_sent ? "set" : "off"} word={item.is_sent ? "sent" : "not sent"} />
              <b className="font-semibold">{item.name}</b>
            </span>
            <span className="text-small text-ink-2">
              {item.doors} {item.doors === 1 ? "door" : "doors"}, what it has to know:{" "}
              <span className="font-mono">{item.digest.slice(0, 8)}</span>
            </span>
            <span className="min-w-0 flex-1 text-small">
              {item.is_sent
                ? `sent ${item.sent_at?.slice(0, 16).replace("T", " ")} by ${item.sent_by ?? "somebody"}`
                : item.sent_at
                  ? "changed since it was last sent: it still opens as before"
                  : "never sent: it knows nobody yet"}
            </span>
            {!item.is_sent && (
              <button
                type="button"
                className="btn"
                disabled={tick.isPending}
                onClick={() => tick.mutate({ panel: item.panel, digest: item.digest })}
              >
                It was sent now
              </button>
            )}
          </li>
        ))}
      </ul>
      {tick.error && <Trouble error={tick.error} />}
    </section>
  );
}

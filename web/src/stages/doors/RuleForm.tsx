import { useState } from "react";
import { Trouble } from "../../parts/Feedback";
import { slug } from "../../parts/slug";
import type { AccessSheet, Rule } from "./Access";
import { useItem } from "./useItem";

/** Which people may open which doors in which frame. */
export function RuleForm({
  rule,
  people,
  doors,
  data,
  close,
}: {
  rule: Rule | null;
  people?: string | undefined;
  doors?: string | undefined;
  data: AccessSheet;
  close: () => void;
}) {
  const [who, setWho] = useState<string[]>(rule?.people ?? (people ? [people] : []));
  const [where, setWhere] = useState<string[]>(rule?.doors ?? (doors ? [doors] : []));
  const [frame, setFrame] = useState(rule?.frame ?? "");
  const change = useItem();
  const toggle = (list: string[], set: (list: string[]) => void, key: string) =>
    set(list.includes(key) ? list.filter((item) => item !== key) : [...list, key]);
  const key = rule?.key ?? free(data, slug(`${who[0] ?? "rule"}-${where[0] ?? ""}`));
  const store = (now: Record<string, unknown> | null) =>
    change.mutate(
      { kind: "rules", item: key, was: rule as Record<string, unknown> | null, now },
      { onSuccess: close },
    );
  return (
    <form
      aria-label={rule ? `Rule ${rule.key}` : "New rule"}
      className="my-2 grid gap-3 border border-hair border-t-[3px] border-t-ink bg-sheet p-3"
      onSubmit={(event) => {
        event.preventDefault();
        store({ ...(rule ?? {}), key, people: who, doors: where, frame: frame || null });
      }}
    >
      <fieldset className="flex flex-wrap gap-x-4">
        <legend className="text-small font-semibold">People</legend>
        {data.people_groups.map((group) => (
          <label key={group.key} className="flex min-h-11 items-center gap-2 text-small">
            <input
              type="checkbox"
              checked={who.includes(group.key)}
              onChange={() => toggle(who, setWho, group.key)}
            />
            {group.name}
          </label>
        ))}
      </fieldset>
      <fieldset className="flex flex-wrap gap-x-4">
        <legend className="text-small font-semibold">Doors</legend>
        {data.door_groups.map((group) => (
          <label key={group.key} className="flex min-h-11 items-center gap-2 text-small">
            <input
              type="checkbox"
              checked={where.includes(group.key)}
              onChange={() => toggle(where, setWhere, group.key)}
            />
            {group.name}
          </label>
        ))}
      </fieldset>
      <label className="grid max-w-72 gap-1 text-small font-semibold">
        When
        <select className="box font-normal" value={frame} onChange={(event) => setFrame(event.target.value)}>
          <option value="">always</option>
          {data.frames.map((item) => (
            <option key={item.key} value={item.key}>
              {item.name}
            </option>
          ))}
        </select>
      </label>
      <div className="flex flex-wrap gap-3">
        <button
          type="submit"
          className="btn btn-main"
          disabled={who.length === 0 || where.length === 0 || change.isPending}
        >
          {rule ? "Save the rule" : "Add the rule"}
        </button>
        {rule && (
          <button type="button" className="btn" disabled={change.isPending} onClick={() => store(null)}>
            Remove it
          </button>
        )}
        <button type="button" className="min-h-11 px-2 underline underline-offset-4" onClick={close}>
          Close
        </button>
      </div>
      {change.error && <Trouble error={change.error} />}
    </form>
  );
}

function free(data: AccessSheet, base: string): string {
  const taken = new Set(data.rules.map((item) => String(item.key)));
  let key = base || "rule";
  for (let number = 2; taken.has(key); number += 1) key = `${base}-${number}`;
  return key;
}

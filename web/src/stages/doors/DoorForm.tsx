import { type FormEvent, useState } from "react";
import { Trouble } from "../../parts/Feedback";
import { slug } from "../../parts/slug";
import { lockWord } from "./Circuit";
import type { Door, Sheet } from "./Doors";
import { tidy, useItem } from "./useItem";

const LOCKS = ["magnet", "strike-fail-safe", "strike-fail-secure", "gate"];
type Fields = Record<string, string>;

/** What is written down of a door: its panel, lock, senses, timings. */
export function DoorForm({
  door,
  sheet,
  close,
}: {
  door?: Door;
  sheet: Sheet;
  close: (key?: string) => void;
}) {
  const part = (door?.part ?? {}) as Record<string, unknown>;
  const text = (name: string) => (part[name] === undefined || part[name] === null ? "" : String(part[name]));
  const [fields, setFields] = useState<Fields>(() => ({
    name: text("name") || (door?.key ?? sheet.loose[0] ?? ""),
    place: text("place"),
    panel: text("panel"),
    number: text("number"),
    lock: text("lock"),
    lock_a: text("lock_a"),
    relay: text("relay"),
    exit_button: part.exit_button === undefined || part.exit_button === null ? "" : String(part.exit_button),
    contact: text("contact"),
    unlock_s: text("unlock_s"),
    held_open_s: text("held_open_s"),
    escape: String(part.escape ?? (!door && sheet.loose.length > 0)),
    normal: text("normal"),
    groups: ((part.groups as string[] | undefined) ?? []).join(", "),
    fire: String(part["x-fire"] === true),
  }));
  const change = useItem();
  const set = (name: string) => (value: string) => setFields({ ...fields, [name]: value });
  const number = (name: string) => {
    const typed = (fields[name] ?? "").trim().replace(",", ".");
    return typed === "" ? null : Number.isFinite(Number(typed)) ? Number(typed) : typed;
  };
  function submit(event: FormEvent) {
    event.preventDefault();
    const key = door?.key ?? freeKey(sheet, fields.name ?? "");
    const groups = (fields.groups ?? "")
      .split(/[,;]/)
      .map((word) => slug(word.trim()))
      .filter(Boolean);
    const kept = Object.fromEntries(
      Object.entries(part).filter(([name]) => name.startsWith("x-") && name !== "x-fire"),
    );
    const now = {
      ...tidy({
        key,
        name: fields.name?.trim(),
        place: fields.place?.trim(),
        panel: fields.panel,
        number: number("number"),
        lock: fields.lock,
        lock_a: number("lock_a"),
        relay: fields.relay,
        exit_button: fields.exit_button === "" ? null : fields.exit_button === "true",
        contact: fields.contact,
        unlock_s: number("unlock_s"),
        held_open_s: number("held_open_s"),
        normal: fields.normal?.trim(),
      }),
      ...(fields.escape === "true" ? { escape: true } : {}),
      ...(groups.length ? { groups } : {}),
      ...(fields.fire === "true" ? { "x-fire": true } : {}),
      ...kept,
    };
    change.mutate(
      { kind: "doors", item: key, was: door ? part : null, now },
      { onSuccess: () => close(door ? undefined : key) },
    );
  }
  return (
    <form
      onSubmit={submit}
      aria-label={door ? `Change ${door.name}` : "New door"}
      className="my-3 border border-hair border-t-[3px] border-t-ink bg-sheet p-4"
    >
      <div className="grid gap-3 sm:grid-cols-2 lg:grid-cols-4">
        <Text label="Name" value={fields.name ?? ""} set={set("name")} />
        <Text label="Place" value={fields.place ?? ""} set={set("place")} />
        <Choice
          label="Panel"
          value={fields.panel ?? ""}
          set={set("panel")}
          options={[
            ["", "not known yet"],
            ...sheet.panels.map((item): [string, string] => [item.value, item.word]),
          ]}
        />
        <Text label="Number at the panel" value={fields.number ?? ""} set={set("number")} mono />
        <Choice
          label="Lock"
          value={fields.lock ?? ""}
          set={set("lock")}
          options={[["", "not known yet"], ...LOCKS.map((lock): [string, string] => [lock, lockWord(lock)])]}
        />
        <Text label="Its current, A" value={fields.lock_a ?? ""} set={set("lock_a")} mono />
        <Choice
          label="Relay sits on"
          value={fields.relay ?? ""}
          set={set("relay")}
          options={[
            ["", "not known yet"],
            ["nc", "C and NC: the relay cuts the current"],
            ["no", "C and NO: the relay gives the current"],
          ]}
        />
        <Choice
          label="Exit button"
          value={fields.exit_button ?? ""}
          set={set("exit_button")}
          options={[
            ["", "not known yet"],
            ["true", "there is one inside"],
            ["false", "there is none"],
          ]}
        />
        <Choice
          label="Contact"
          value={fields.contact ?? ""}
          set={set("contact")}
          options={[
            ["", "none"],
            ["nc", "NC: closed while shut"],
            ["no", "NO: open while shut"],
          ]}
        />
        <Text label="Unlocks for, s" value={fields.unlock_s ?? ""} set={set("unlock_s")} mono />
        <Text label="Held open after, s" value={fields.held_open_s ?? ""} set={set("held_open_s")} mono />
        <Text label="Usually" value={fields.normal ?? ""} set={set("normal")} hint="locked" />
        <Text label="Groups of doors" value={fields.groups ?? ""} set={set("groups")} hint="staff-doors" />
        <Tick label="On an escape route" value={fields.escape ?? ""} set={set("escape")} />
        <Tick
          label="Its current runs through the fire panel’s contact"
          value={fields.fire ?? ""}
          set={set("fire")}
        />
      </div>
      <div className="flex flex-wrap gap-3 pt-3">
        <button type="submit" className="btn btn-main" disabled={!fields.name?.trim() || change.isPending}>
          {door ? "Save" : "Add the door"}
        </button>
        <button type="button" className="btn" onClick={() => close()}>
          {door ? "Leave it as it was" : "Close"}
        </button>
        {door && (
          <button
            type="button"
            className="btn ml-auto"
            disabled={change.isPending}
            onClick={() =>
              change.mutate(
                { kind: "doors", item: door.key, was: part, now: null },
                { onSuccess: () => close() },
              )
            }
          >
            Remove the door
          </button>
        )}
      </div>
      {change.error && <Trouble error={change.error} />}
    </form>
  );
}

function freeKey(sheet: Sheet, name: string): string {
  const taken = new Set(sheet.doors.map((item) => item.key));
  const base = slug(name) || "door";
  let key = base;
  for (let number = 2; taken.has(key); number += 1) key = `${base}-${number}`;
  return key;
}

function Text({
  label,
  value,
  set,
  mono = false,
  hint,
}: {
  label: string;
  value: string;
  set: (text: string) => void;
  mono?: boolean;
  hint?: string;
}) {
  return (
    <label className="grid gap-1 text-small">
      {label}
      <input
        className={`box ${mono ? "font-mono" : ""}`}
        value={value}
        placeholder={hint}
        maxLength={200}
        onChange={(event) => set(event.target.value)}
      />
    </label>
  );
}

function Choice({
  label,
  value,
  set,
  options,
}: {
  label: string;
  value: string;
  set: (text: string) => void;
  options: [string, string][];
}) {
  return (
    <label className="grid min-w-0 gap-1 text-small">
      {label}
      <select className="box w-full min-w-0" value={value} onChange={(event) => set(event.target.value)}>
        {options.map(([key, word]) => (
          <option key={key} value={key}>
            {word}
          </option>
        ))}
      </select>
    </label>
  );
}

function Tick({ label, value, set }: { label: string; value: string; set: (text: string) => void }) {
  return (
    <label className="flex min-h-11 items-center gap-2 self-end text-small">
      <input
        type="checkbox"
        checked={value === "true"}
        onChange={(event) => set(String(event.target.checked))}
      />
      {label}
    </label>
  );
}

import { type FormEvent, useState } from "react";
import { Refused, type Schemas } from "../api/client";
import { Trouble } from "./Feedback";

type Field = Schemas["FieldRow"];

/** What is asked first of a model that nobody knows anything of yet. */
const FIRST = ["What it is", "From the factory", "Services", "Password"];
/** Fields of several lines, with an example of one. */
const LINES: Record<string, string> = {
  services: "web 80",
  limits: "extensions 201–899",
  signs: "red then green | it starts | 40",
  apps: "phone picture | any phone | the maker's page",
};

/** A model's profile in groups; only what was changed is sent. */
export function ProfileForm({
  sheet,
  save,
  pending,
  error,
  children,
}: {
  sheet: Schemas["ProfileSheet"];
  save: (typed: Record<string, string>) => void;
  pending: boolean;
  error: Error | null;
  children?: React.ReactNode;
}) {
  const [typed, setTyped] = useState<Record<string, string>>({});
  const groups = [...new Set(sheet.fields.map((field) => field.group))];
  const faults = error instanceof Refused ? error.faults : [];
  const known = new Set(sheet.fields.map((field) => field.path));
  const fresh = sheet.fields.every((field) => field.value === "");
  const placed = faults.some((fault) => known.has(fault.path));
  function submit(event: FormEvent) {
    event.preventDefault();
    save(typed);
  }
  return (
    <form onSubmit={submit} noValidate aria-label={`Profile of ${sheet.label}`} className="mt-3">
      {groups.map((group) => {
        const fields = sheet.fields.filter((field) => field.group === group);
        const filled = fields.filter((field) => field.value !== "").length;
        const wrong = fields.some((field) => faults.some((fault) => fault.path === field.path));
        return (
          <details
            key={group}
            className="group border-t border-hair"
            open={wrong || filled > 0 || (fresh && FIRST.includes(group))}
          >
            <summary className="flex min-h-11 cursor-pointer items-center gap-3">
              <span aria-hidden="true" className="text-ink-2 group-open:rotate-90">
                ▸
              </span>
              <span className="font-semibold">{group}</span>
              <span className="text-small text-ink-2">
                {filled === 0 ? "not known" : `${filled} of ${fields.length} known`}
              </span>
            </summary>
            <fieldset className="flex flex-wrap items-start gap-3 pb-3">
              <legend className="sr-only">{group}</legend>
              {fields.map((field) => (
                <ProfileField
                  key={field.path}
                  field={field}
                  value={typed[field.path] ?? field.value}
                  fault={faults.find((fault) => fault.path === field.path)?.message}
                  type={(value) => setTyped({ ...typed, [field.path]: value })}
                />
              ))}
            </fieldset>
          </details>
        );
      })}
      {error && !placed && <Trouble error={error} />}
      <div className="flex flex-wrap gap-3 border-t border-hair pt-3">
        <button type="submit" className="btn btn-main" disabled={pending || Object.keys(typed).length === 0}>
          Save
        </button>
        {children}
      </div>
    </form>
  );
}

function ProfileField({
  field,
  value,
  fault,
  type,
}: {
  field: Field;
  value: string;
  fault: string | undefined;
  type: (value: string) => void;
}) {
  const short = ["whole", "number", "address", "network"].includes(field.kind);
  const lines = LINES[field.kind];
  const look = `box w-full ${short || lines ? "font-mono text-list" : ""} ${fault ? "border-red" : ""}`;
  const options =
    field.kind === "yes-no" ? ["yes", "no"].map((word) => ({ value: word, word })) : field.options;
  return (
    <label
      className={`grid gap-1 text-small ${short ? "w-36" : lines && field.kind !== "services" ? "w-full max-w-xl" : "w-52"}`}
    >
      {field.label}
      {options.length > 0 ? (
        <select className={look} value={value} onChange={(event) => type(event.target.value)}>
          <option value="">not known</option>
          {options.map((option) => (
            <option key={option.value} value={option.value}>
              {option.word}
            </option>
          ))}
        </select>
      ) : lines ? (
        <textarea
          className={`${look} py-2`}
          rows={Math.max(3, value.split("\n").length)}
          value={value}
          placeholder={lines}
          onChange={(event) => type(event.target.value)}
        />
      ) : (
        <input
          className={look}
          value={value}
          autoComplete="off"
          aria-invalid={fault ? true : undefined}
          onChange={(event) => type(event.target.value)}
        />
      )}
      {fault && <span className="font-medium text-red">{fault}</span>}
    </label>
  );
}

import type { Schemas } from "../api/client";

/** A select with its label; with `none`, nothing may be chosen. */
export function Choice({
  label,
  options,
  value,
  set,
  none,
  look = "",
  box = "",
}: {
  label: string;
  options: Schemas["Option"][];
  value: string;
  set: (value: string) => void;
  none?: string;
  look?: string;
  box?: string;
}) {
  return (
    <label className={`grid gap-0.5 text-cell ${look}`}>
      {label}
      <select className={`box ${box}`} value={value} onChange={(event) => set(event.target.value)}>
        {none !== undefined && <option value="">{none}</option>}
        {options.map((item) => (
          <option key={item.value} value={item.value}>
            {item.word}
          </option>
        ))}
      </select>
    </label>
  );
}

import { type FormEvent, useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useChange } from "../../api/site";
import { Trouble } from "../../parts/Feedback";
import { COLUMNS, changeOf, type Field, type Sheet } from "./columns";

const FIELDS = COLUMNS.filter((column) => column.field !== "key" && column.field !== "model");

/** Write down one device by hand; the sticker is the next free one of its family unless another is typed. */
export function NewDevice({ data }: { data: Sheet }) {
  const [model, setModel] = useState(data.models[0]?.key ?? "");
  const [key, setKey] = useState("");
  const add = useChange((site, body: Schemas["NewDevice"]) =>
    ask(client.POST("/api/sites/{key}/devices", { params: { path: { key: site } }, body })),
  );
  const family = data.models.find((item) => item.key === model)?.family ?? "other";
  const next = data.next_keys[family] ?? "";
  function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = event.currentTarget;
    const typed = new FormData(form);
    const parts = FIELDS.map((column) =>
      changeOf(column.field as Field, String(typed.get(column.field) ?? "")),
    );
    const body = { ...Object.assign({}, ...parts), key: key.trim() || next, model };
    add.mutate(body as Schemas["NewDevice"], {
      onSuccess: () => {
        setKey("");
        for (const name of ["name", "mac", "serial"]) {
          const input = form.elements.namedItem(name);
          if (input instanceof HTMLInputElement) input.value = "";
        }
        (form.elements.namedItem("name") as HTMLInputElement).focus();
      },
    });
  }
  return (
    <form onSubmit={submit} className="mt-6 border-t-2 border-ink pt-3" aria-label="Write down a device">
      <h2 className="pb-2 font-semibold">Write down a device</h2>
      <div className="flex flex-wrap items-end gap-3">
        <label className="grid gap-1 text-small text-ink-2">
          Model
          <select className="box text-ink" value={model} onChange={(event) => setModel(event.target.value)}>
            {data.models.map((item) => (
              <option key={item.key} value={item.key}>
                {item.label}
                {item.here ? "" : " (catalogue)"}
              </option>
            ))}
          </select>
        </label>
        <label className="grid w-32 gap-1 text-small text-ink-2">
          Sticker
          <input
            className="box w-full font-mono text-ink"
            value={key}
            placeholder={next}
            autoComplete="off"
            spellCheck={false}
            onChange={(event) => setKey(event.target.value)}
          />
        </label>
        {FIELDS.map((column) => (
          <label key={column.field} className="grid gap-1 text-small text-ink-2">
            {column.head}
            {column.choices ? (
              <select
                name={column.field}
                className="box text-ink"
                defaultValue={column.field === "network" ? data.networks[0]?.key : ""}
              >
                {column.choices(data).map((choice) => (
                  <option key={choice.value} value={choice.value}>
                    {choice.word}
                  </option>
                ))}
              </select>
            ) : (
              <input
                name={column.field}
                className={`box text-ink ${column.mono ? "w-48 font-mono" : "w-56"}`}
                autoComplete="off"
                spellCheck={false}
              />
            )}
          </label>
        ))}
        <button type="submit" className="btn" disabled={add.isPending || !model}>
          Add it
        </button>
      </div>
      {add.error && (
        <div className="mt-3">
          <Trouble error={add.error} />
        </div>
      )}
    </form>
  );
}

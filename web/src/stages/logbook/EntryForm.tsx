import { type FormEvent, useState } from "react";
import { asBytes, ask, client, type Schemas } from "../../api/client";
import { useChange, useSiteKey } from "../../api/site";
import { useDraft } from "../../parts/drafts";
import { Trouble } from "../../parts/Feedback";

type Entry = Schemas["NewEntry"];

/** A note, a reading with its unit, a photograph; or the correction of a line, which keeps what stood there. */
export function EntryForm({
  devices,
  device,
  correcting,
  done,
}: {
  devices: Schemas["LogDevice"][];
  device: string;
  correcting: Schemas["LogLine"] | null;
  done: () => void;
}) {
  const site = useSiteKey();
  const [text, setText, clearText] = useDraft(`log ${site} ${correcting?.id ?? ""}`, "");
  const [subject, setSubject] = useState(device);
  const [value, setValue] = useState("");
  const [unit, setUnit] = useState("");
  const [photo, setPhoto] = useState<File | null>(null);
  const number = value.trim() === "" ? null : Number(value.replace(",", "."));
  const add = useChange(async (key: string, entry: Entry) => {
    let name = "";
    if (photo) {
      const kept = await ask(
        client.POST("/api/sites/{key}/log/photos", {
          params: { path: { key } },
          ...asBytes(photo),
        }),
      );
      name = kept.name;
    }
    return ask(
      client.POST("/api/sites/{key}/log", { params: { path: { key } }, body: { ...entry, photo: name } }),
    );
  });
  const empty = !text.trim() && number === null && !photo;
  function submit(event: FormEvent) {
    event.preventDefault();
    add.mutate(
      { text, subject, value: number, unit, photo: "", corrects: correcting?.id ?? null },
      {
        onSuccess: () => {
          clearText();
          setValue("");
          setUnit("");
          setPhoto(null);
          done();
        },
      },
    );
  }
  return (
    <form
      className="slip grid grid-cols-[minmax(0,1fr)] gap-3"
      onSubmit={submit}
      aria-label={correcting ? "Correct a line" : "Add a line"}
    >
      <h2 className="font-semibold">{correcting ? "Correct a line" : "Add to the logbook"}</h2>
      {correcting && (
        <p className="text-small">
          It says: <q>{correcting.sentence}</q> That stays; yours stands beside it.
        </p>
      )}
      {add.error && <Trouble error={add.error} />}
      <label className="grid grid-cols-[minmax(0,1fr)] gap-1 font-semibold">
        {correcting ? "What is right" : "What happened"}
        <textarea
          className="box min-h-24 font-normal"
          maxLength={4000}
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      {!correcting && (
        <label className="grid grid-cols-[minmax(0,1fr)] gap-1 font-semibold">
          About
          <select
            className="box font-normal"
            value={subject}
            onChange={(event) => setSubject(event.target.value)}
          >
            <option value="">the site</option>
            {devices.map((item) => (
              <option key={item.key} value={item.key}>
                {item.name}
              </option>
            ))}
          </select>
        </label>
      )}
      <div className="flex gap-3">
        <label className="grid min-w-0 flex-1 grid-cols-[minmax(0,1fr)] gap-1 font-semibold">
          Reading
          <input
            className="box font-mono font-normal"
            inputMode="decimal"
            value={value}
            pattern="\s*[+\-]?[0-9]+([.,][0-9]+)?\s*"
            title="a number, like 11.8 or -67"
            onChange={(event) => setValue(event.target.value)}
          />
        </label>
        <label className="grid w-28 grid-cols-[minmax(0,1fr)] gap-1 font-semibold">
          Unit
          <input
            className="box font-normal"
            maxLength={20}
            required={number !== null}
            placeholder="V, dBm"
            value={unit}
            onChange={(event) => setUnit(event.target.value)}
          />
        </label>
      </div>
      <label className="grid grid-cols-[minmax(0,1fr)] gap-1 font-semibold">
        Photograph
        <input
          type="file"
          accept="image/jpeg,image/png,image/webp"
          className="box py-2 font-normal"
          onChange={(event) => setPhoto(event.target.files?.[0] ?? null)}
        />
        <span className="text-small font-normal text-ink-2">
          Kept without place and camera data. People in it: only as local privacy law allows.
        </span>
      </label>
      <div className="flex gap-3">
        <button type="submit" className="btn btn-main" disabled={empty || add.isPending}>
          {correcting ? "Save the correction" : "Write it down"}
        </button>
        {correcting && (
          <button type="button" className="btn" onClick={done}>
            Leave it
          </button>
        )}
      </div>
    </form>
  );
}

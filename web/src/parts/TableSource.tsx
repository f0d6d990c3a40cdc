import { type ReactNode, useState } from "react";

/** Where a table comes from: a file, or text that is pasted. */
export function TableSource({
  file,
  text,
  go,
  accept,
  busy,
  take,
}: {
  file: ReactNode;
  text: ReactNode;
  go: string;
  accept?: string;
  busy: boolean;
  take: (blob: Blob) => void;
}) {
  const [typed, setTyped] = useState("");
  return (
    <div className="mt-3 grid gap-4">
      <label className="grid gap-1">
        {file}
        <input
          type="file"
          accept={accept}
          className="box py-2"
          onChange={(event) => {
            const chosen = event.target.files?.[0];
            if (chosen) take(chosen);
          }}
        />
      </label>
      <label className="grid gap-1">
        <span>{text}</span>
        <textarea
          rows={8}
          className="box py-2 font-mono text-small"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
      </label>
      <button
        type="button"
        className="btn btn-main justify-self-start"
        disabled={!typed.trim() || busy}
        onClick={() => take(new Blob([typed]))}
      >
        {go}
      </button>
    </div>
  );
}

import { useState } from "react";
import type { Schemas } from "../api/client";
import { CopyButton } from "./CopyButton";

const WORDS = { windows: "Windows", macos: "macOS", linux: "Linux" } as const;
type Kind = keyof typeof WORDS;
const SETTING = "tutelar.laptop";

function usual(): Kind {
  const kept = localStorage.getItem(SETTING);
  if (kept && kept in WORDS) return kept as Kind;
  const here = navigator.userAgent;
  return /Windows/.test(here) ? "windows" : /Mac OS/.test(here) ? "macos" : "linux";
}

/** What is typed on this kind of laptop; the kind is remembered. */
export function Commands({ commands, what }: { commands: Schemas["Commands"][]; what: string }) {
  const [kind, setKind] = useState<Kind>(usual);
  const lines = commands.find((item) => item.laptop === kind)?.lines ?? [];
  return (
    <div className="grid gap-1">
      <label className="flex items-center gap-2 text-small">
        On
        <select
          className="box min-h-9 max-md:min-h-11 text-small"
          value={kind}
          aria-label="Kind of laptop"
          onChange={(event) => {
            setKind(event.target.value as Kind);
            localStorage.setItem(SETTING, event.target.value);
          }}
        >
          {Object.entries(WORDS).map(([key, word]) => (
            <option key={key} value={key}>
              {word}
            </option>
          ))}
        </select>
      </label>
      {lines.map((line) => (
        <p key={line} className="flex flex-wrap items-center gap-x-3 gap-y-1">
          <code className="min-w-0 flex-1 basis-60 font-mono text-small break-words">{line}</code>
          <CopyButton value={line} what={what} />
        </p>
      ))}
    </div>
  );
}

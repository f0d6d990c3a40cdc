import { useState } from "react";

/** Put text on the clipboard; true where the browser allowed it. */
export async function copyText(text: string): Promise<boolean> {
  try {
    await navigator.clipboard.writeText(text);
    return true;
  } catch {
    return false;
  }
}

/** Copies a value and says that it did. Copying moves nothing on. */
export function CopyButton({
  value,
  what,
  strong = false,
}: {
  value: string;
  what: string;
  strong?: boolean;
}) {
  const [said, setSaid] = useState("");
  async function copy() {
    setSaid((await copyText(value)) ? "Copied" : "Select it by hand");
    window.setTimeout(() => setSaid(""), 2000);
  }
  return (
    <button
      type="button"
      onClick={copy}
      className={strong ? "btn" : "min-h-11 px-3 text-small font-semibold underline underline-offset-4"}
      aria-label={`Copy ${what}`}
    >
      <span aria-live="polite">{said || "Copy"}</span>
      {strong && <kbd className="key max-md:hidden">C</kbd>}
    </button>
  );
}

import { useRef } from "react";

/** A hidden file field and the function that opens it. */
export function useFilePicker(label: string, take: (file: File) => void) {
  const picker = useRef<HTMLInputElement>(null);
  const field = (
    <input
      ref={picker}
      type="file"
      accept=".json,application/json"
      className="sr-only"
      tabIndex={-1}
      aria-label={label}
      onChange={(event) => {
        const file = event.target.files?.[0];
        event.target.value = "";
        if (file) take(file);
      }}
    />
  );
  return { field, pick: () => picker.current?.click() };
}

import { useState } from "react";

/** What is being typed and not saved yet; it outlives a closed tab. `clear` when it was saved or given up. */
export function useDraft<T>(name: string, empty: T): [T, (draft: T) => void, () => void] {
  const [draft, setDraft] = useState<T>(() => readDraft<T>(name) ?? empty);
  return [
    draft,
    (next) => {
      setDraft(next);
      localStorage.setItem(storageKey(name), JSON.stringify(next));
    },
    () => {
      setDraft(empty);
      localStorage.removeItem(storageKey(name));
    },
  ];
}

export function hasDraft(name: string): boolean {
  return localStorage.getItem(storageKey(name)) !== null;
}

function storageKey(name: string): string {
  return `tutelar.draft.${name}`;
}

function readDraft<T>(name: string): T | null {
  try {
    return JSON.parse(localStorage.getItem(storageKey(name)) ?? "null") as T | null;
  } catch {
    return null;
  }
}

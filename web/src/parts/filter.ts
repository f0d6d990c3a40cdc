/** The words of what was typed into a box that filters, in small letters. */
export function wordsOf(typed: string): string[] {
  return typed.toLowerCase().split(/\s+/).filter(Boolean);
}

/** Whether a text has every one of the words. */
export function hasAll(words: string[], text: string): boolean {
  const small = text.toLowerCase();
  return words.every((word) => small.includes(word));
}

/** What people call something as a key: "Old Mill" becomes "old-mill". */
export function slug(words: string): string {
  return words
    .normalize("NFKD")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .slice(0, 80)
    .replace(/^-|-$/g, "");
}

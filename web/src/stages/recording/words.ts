/** Bytes as people say them: "495 GB", "1.24 TB". */
export function dailyWords(bytes: number): string {
  if (bytes >= 1e12) return `${(bytes / 1e12).toFixed(2)} TB`;
  if (bytes >= 1e9) return `${(bytes / 1e9).toFixed(bytes >= 1e11 ? 0 : 1)} GB`;
  return `${(bytes / 1e6).toFixed(0)} MB`;
}

/** Days, rounded down, so that nobody is promised what is not there: "22.5 days". */
export function days(number: number): string {
  const shown = Math.floor(number * 10) / 10;
  return `${shown >= 100 ? Math.floor(shown) : shown} ${shown === 1 ? "day" : "days"}`;
}

export function rate(kbps: number): string {
  return `${Number((kbps / 1000).toFixed(3))} Mbit/s`;
}

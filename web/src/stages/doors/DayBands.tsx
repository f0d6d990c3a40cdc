const ORDER: [string, string][] = [
  ["mon", "Mon"],
  ["tue", "Tue"],
  ["wed", "Wed"],
  ["thu", "Thu"],
  ["fri", "Fri"],
  ["sat", "Sat"],
  ["sun", "Sun"],
  ["holiday", "Hol"],
];

function clock(minutes: number): string {
  return `${String(Math.floor(minutes / 60)).padStart(2, "0")}:${String(minutes % 60).padStart(2, "0")}`;
}

/** A week as bands: when a door opens for somebody. */
export function DayBands({ name, days }: { name: string; days: Record<string, number[][]> }) {
  return (
    <section aria-label={name} className="mt-2">
      <p className="text-small font-semibold">{name}</p>
      <ul>
        {ORDER.map(([day, word]) => {
          const spans = days[day] ?? [];
          const said = spans.map(([from, to]) => `${clock(from ?? 0)} to ${clock(to ?? 0)}`).join(", ");
          return (
            <li key={day} className="grid grid-cols-[32px_minmax(0,1fr)] items-center gap-2 text-cell">
              <b className="font-semibold">{word}</b>
              <span className="relative block h-4 border-b border-hair">
                <span className="sr-only">{said || "nobody"}</span>
                {spans.map(([from, to]) => (
                  <span
                    key={from}
                    aria-hidden="true"
                    className="absolute inset-y-0.5 border border-kelp bg-kelp-wash"
                    style={{
                      left: `${((from ?? 0) / 1440) * 100}%`,
                      width: `${(((to ?? 0) - (from ?? 0)) / 1440) * 100}%`,
                    }}
                    title={said}
                  />
                ))}
              </span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

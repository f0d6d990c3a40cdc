/** A bar on a ruler with the mark that it must not pass; what is past it is drawn in the colour of a fault. */
export function Ruler({
  value,
  limit,
  warn,
  most,
  said,
  thin = false,
  below = false,
}: {
  value: number;
  limit: number | null;
  warn?: number;
  most: number;
  said: string;
  thin?: boolean;
  below?: boolean;
}) {
  const x = (number: number) => (Math.min(number, most) / most) * 1000;
  const mark = warn ?? limit;
  const over = mark !== null && value > mark;
  return (
    <svg
      viewBox="0 0 1000 24"
      preserveAspectRatio="none"
      className={`block w-full ${thin ? "h-3" : "h-6"}`}
      role="img"
      aria-label={said}
    >
      <rect
        x="0"
        y={thin ? 4 : 6}
        width={x(over && !below ? (mark ?? value) : value)}
        height={thin ? 18 : 11}
        className={thin ? "fill-slate-wash stroke-slate" : "fill-slate"}
        vectorEffect="non-scaling-stroke"
      />
      {over && !below && (
        <rect
          x={x(mark ?? 0)}
          y={thin ? 4 : 6}
          width={x(value) - x(mark ?? 0)}
          height={thin ? 18 : 11}
          className="fill-brass-fill"
        />
      )}
      {below && mark !== null && value < mark && (
        <rect
          x={x(value)}
          y="6"
          width={x(mark) - x(value)}
          height="11"
          fill="none"
          className="stroke-brass-fill"
          strokeWidth="1.5"
          strokeDasharray="3 2"
          vectorEffect="non-scaling-stroke"
        />
      )}
      {!thin && <path d="M0 17.5H1000" className="stroke-ink" vectorEffect="non-scaling-stroke" />}
      {mark !== null && (
        <path
          d={`M${x(mark)} 0V24`}
          className="stroke-ink"
          strokeWidth="2.5"
          vectorEffect="non-scaling-stroke"
        />
      )}
    </svg>
  );
}

/** A comb of seats: the used ones are teeth, the free ones open. */
export function Comb({ used, seats }: { used: number; seats: number }) {
  const shown = Math.min(Math.max(seats, used), 64);
  const step = 192 / shown;
  return (
    <svg viewBox="0 0 194 16" className="block h-4 w-48" aria-hidden="true">
      <path d="M0 15H192" className="stroke-ink" strokeWidth="2" />
      {Array.from({ length: shown }, (_, at) => step * at + step / 2).map((x, at) =>
        at < used ? (
          <path
            key={x}
            d={`M${x} 15V4`}
            className={at >= seats ? "stroke-red" : "stroke-ink"}
            strokeWidth="2.5"
          />
        ) : (
          <rect
            key={x}
            x={x - 2}
            y="5"
            width={Math.min(4, step - 1)}
            height="9"
            className="fill-paper stroke-field"
          />
        ),
      )}
    </svg>
  );
}

import type { Mode } from "./week";

/** The look of a mode: a filled stretch, narrow bars, or pins on a dotted line. */
export function Fill({ mode }: { mode: Mode }) {
  if (mode === "continuous")
    return <span className="absolute inset-0 border-[1.5px] border-kelp bg-kelp-wash" aria-hidden="true" />;
  return (
    <svg className="absolute inset-0 size-full text-kelp" aria-hidden="true">
      <rect width="100%" height="100%" fill={`url(#recorded-${mode})`} />
      <line
        x1="0"
        x2="100%"
        y1="100%"
        y2="100%"
        stroke="currentColor"
        strokeWidth="3"
        strokeDasharray={mode === "alarm" ? "2 3" : undefined}
      />
    </svg>
  );
}

/** The patterns that `Fill` refers to; once on a page. */
export function Defs() {
  return (
    <svg width="0" height="0" className="absolute" aria-hidden="true">
      <defs>
        <pattern id="recorded-motion" width="13" height="100" patternUnits="userSpaceOnUse">
          <rect
            x="3"
            y="3"
            width="4"
            height="97"
            fill="var(--kelp-wash)"
            stroke="var(--kelp)"
            strokeWidth="1.25"
          />
        </pattern>
        <pattern id="recorded-alarm" width="26" height="100" patternUnits="userSpaceOnUse">
          <path d="M12 10V100" stroke="var(--kelp)" strokeWidth="1.5" />
          <circle cx="12" cy="7" r="3" fill="none" stroke="var(--kelp)" strokeWidth="1.5" />
        </pattern>
      </defs>
    </svg>
  );
}

export function Swatches({ motion, alarm }: { motion: number; alarm: number }) {
  const entries: [Mode, string][] = [
    ["continuous", "continuous"],
    ["motion", `motion, taken as ${Math.round(motion * 1000) / 10} % of the time`],
    ["alarm", `alarm contact, ${Math.round(alarm * 1000) / 10} %`],
  ];
  return (
    <ul className="flex flex-wrap gap-x-5 gap-y-1 py-2 text-small md:pl-44" aria-label="How modes are drawn">
      {entries.map(([mode, words]) => (
        <li key={mode} className="flex items-center gap-2">
          <span className="relative inline-block h-4 w-12">
            <Fill mode={mode} />
          </span>
          {words}
        </li>
      ))}
      <Defs />
    </ul>
  );
}

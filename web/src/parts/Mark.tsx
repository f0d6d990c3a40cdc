import type { ReactNode } from "react";

export type MarkName =
  | "planned"
  | "set"
  | "proven"
  | "turn"
  | "off"
  | "loose"
  | "cut"
  | "stranger"
  | "broken"
  | "clash"
  | "busy"
  | "unread"
  | "left"
  | "leased"
  | "kept"
  | "gateway"
  | "free"
  | "lock"
  | "unlock";

const stroke = { fill: "none", stroke: "currentColor" } as const;
const inner = "var(--on-fill)";

const SHAPES: Record<MarkName, ReactNode> = {
  planned: <rect x="2" y="2" width="12" height="12" strokeWidth="1.75" {...stroke} />,
  set: (
    <>
      <rect x="2" y="2" width="12" height="12" strokeWidth="1.75" {...stroke} />
      <path d="M4.5 11.5 11.5 4.5" strokeWidth="2.25" {...stroke} />
    </>
  ),
  proven: (
    <>
      <rect x="1" y="1" width="14" height="14" fill="currentColor" />
      <path d="M4 8.2 7 11.2 12.2 5" stroke={inner} strokeWidth="2" fill="none" />
    </>
  ),
  turn: <path d="M2.5 1 15 8 2.5 15Z" fill="currentColor" />,
  off: (
    <>
      <path d="M8 1.2 14.8 8 8 14.8 1.2 8Z" strokeWidth="1.9" {...stroke} />
      <path d="M8 5.2V8.4M8 9.8V11.4" strokeWidth="2" {...stroke} />
    </>
  ),
  loose: (
    <>
      <path d="M0 8H6.5" strokeWidth="2" {...stroke} />
      <circle cx="10.75" cy="8" r="4" strokeWidth="2" {...stroke} />
    </>
  ),
  cut: (
    <>
      <path d="M0 8H9" strokeWidth="2" {...stroke} />
      <path d="M10 1.5V14.5" strokeWidth="2.5" {...stroke} />
      <path d="M12.5 5.5 16 8 12.5 10.5" strokeWidth="1.5" {...stroke} />
    </>
  ),
  stranger: (
    <>
      <rect x="1.75" y="1.75" width="12.5" height="12.5" strokeWidth="1.75" {...stroke} />
      <path
        d="M5.8 6.4C5.8 5 6.7 4.3 8 4.3s2.2.8 2.2 1.9C10.2 7.9 8 7.7 8 9.3M8 10.6v1.6"
        strokeWidth="1.6"
        {...stroke}
      />
    </>
  ),
  broken: (
    <>
      <path d="M8 0 16 8 8 16 0 8Z" fill="currentColor" />
      <path d="M5.4 5.4 10.6 10.6M10.6 5.4 5.4 10.6" stroke={inner} strokeWidth="1.9" />
    </>
  ),
  clash: (
    <>
      <rect x="1" y="1" width="9.5" height="9.5" strokeWidth="1.75" {...stroke} />
      <rect x="5.5" y="5.5" width="9.5" height="9.5" strokeWidth="1.75" {...stroke} />
      <rect x="5.5" y="5.5" width="5" height="5" fill="currentColor" />
    </>
  ),
  busy: (
    <>
      <path d="M8 1.75a6.25 6.25 0 1 1-6.25 6.25" strokeWidth="2" {...stroke} />
      <path d="M8 4.5V8h2.8" strokeWidth="1.75" {...stroke} />
    </>
  ),
  unread: <path d="M4 8H12" strokeWidth="1.9" {...stroke} />,
  left: <path d="M5 2.5H2.5V13.5H5M11 2.5H13.5V13.5H11M6 8H10" strokeWidth="1.75" {...stroke} />,
  leased: (
    <>
      <circle cx="8" cy="8" r="6" strokeWidth="1.75" {...stroke} />
      <circle cx="8" cy="8" r="2" fill="currentColor" />
    </>
  ),
  kept: <path d="M1 6 6 1M1 11 11 1M1 16 16 1M5 16 16 5M10 16 16 10" strokeWidth="1.4" {...stroke} />,
  gateway: <path d="M1 15V8a7 7 0 0 1 14 0v7h-4.2V8.4a2.8 2.8 0 0 0-5.6 0V15Z" fill="currentColor" />,
  free: <circle cx="8" cy="8" r="1.25" fill="currentColor" />,
  lock: (
    <>
      <path d="M2.5 7h11v8h-11Z" fill="currentColor" />
      <path d="M5 7V5a3 3 0 0 1 6 0v2" strokeWidth="1.9" {...stroke} />
    </>
  ),
  unlock: (
    <>
      <path d="M3.3 7.8h9.4v6.4H3.3Z" strokeWidth="1.6" {...stroke} />
      <path d="M5 7V4.5a3 3 0 0 1 5.9-.8" strokeWidth="1.6" {...stroke} />
    </>
  ),
};

const TONES: Record<MarkName, string> = {
  planned: "text-slate",
  set: "text-kelp",
  proven: "text-kelp",
  turn: "text-brass-fill",
  off: "text-brass-fill",
  loose: "text-brass-fill",
  cut: "text-red",
  stranger: "text-brass-fill",
  broken: "text-red",
  clash: "text-red",
  busy: "text-ink",
  unread: "text-ink-2",
  left: "text-ink-2",
  leased: "text-lease",
  kept: "text-ink-2",
  gateway: "text-ink",
  free: "text-ink-2",
  lock: "text-ink",
  unlock: "text-ink-2",
};

/** The shape of a state. With `word` the state is also said; without, the text beside it must say it. */
export function Mark({
  name,
  size = 16,
  word,
  tone,
}: {
  name: MarkName;
  size?: number;
  word?: string;
  tone?: string;
}) {
  const said = word ? { role: "img", "aria-label": word } : { "aria-hidden": true };
  return (
    // biome-ignore lint/a11y/noSvgWithoutTitle: named by its label, or hidden where the text beside it says it
    <svg
      viewBox="0 0 16 16"
      width={size}
      height={size}
      className={`shrink-0 ${tone ?? TONES[name]}`}
      {...said}
    >
      {SHAPES[name]}
    </svg>
  );
}

const TEXT: Partial<Record<MarkName, string>> = {
  turn: "text-brass",
  off: "text-brass",
  loose: "text-brass",
  stranger: "text-brass",
};

/** A state as shape and word. */
export function State({ name, children }: { name: MarkName; children: ReactNode }) {
  return (
    <span className="inline-flex items-center gap-1.5 whitespace-nowrap">
      <Mark name={name} />
      <span className={TEXT[name] ?? TONES[name]}>{children}</span>
    </span>
  );
}

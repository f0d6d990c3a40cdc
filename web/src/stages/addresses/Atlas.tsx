import type { KeyboardEvent } from "react";
import { Mark } from "../../parts/Mark";
import { type Leaf, toAddress } from "./cells";

/** A large network at a glance: a leaf is 256 addresses; arrows walk, Enter or a press opens it. */
export function Atlas({
  leaves,
  current,
  choose,
  wide,
  label,
}: {
  leaves: Leaf[];
  current: number;
  choose: (from: number) => void;
  wide: number;
  label: string;
}) {
  function walk(event: KeyboardEvent<HTMLElement>) {
    const step = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -wide, ArrowDown: wide }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    const buttons = [...event.currentTarget.querySelectorAll<HTMLElement>("button")];
    const at = buttons.indexOf(event.target as HTMLElement) + step; // the page may still be on its way to the last one
    const next = leaves[at];
    if (!next) return;
    buttons[at]?.focus();
    choose(next.from);
  }
  return (
    <section aria-label={label} className="py-2 sm:pl-26" onKeyDown={walk}>
      <div
        className="grid w-fit border-t border-l border-hair"
        style={{ gridTemplateColumns: `repeat(${Math.min(wide, leaves.length)}, minmax(0, auto))` }}
      >
        {leaves.map((leaf) => {
          const word = wordOf(leaf);
          return (
            <button
              key={leaf.from}
              type="button"
              aria-current={leaf.from === current ? "true" : undefined}
              aria-label={`${toAddress(leaf.from)} to ${toAddress(leaf.from + 255)}: ${word}`}
              title={`${toAddress(leaf.from).replace(/\.0$/, ".x")} · ${word}`}
              tabIndex={leaf.from === current ? 0 : -1}
              data-shortcuts=""
              onClick={() => choose(leaf.from)}
              className={`flex h-7 w-6 flex-col items-center border-r border-b border-hair text-cell leading-4 font-semibold max-sm:h-11 max-sm:w-[34px] ${lookOf(leaf)} ${
                leaf.from === current ? "relative z-10 outline-[3px] -outline-offset-1 outline-ink" : ""
              }`}
            >
              <span className="tracking-tighter [font-variant-numeric:proportional-nums]">
                {Math.floor(leaf.from / 256) % 256}
              </span>
              {leaf.trouble > 0 ? (
                <Mark name="clash" size={9} tone="text-red" />
              ) : leaf.devices > 0 ? (
                <span className="h-1 bg-kelp" style={{ width: `${4 + (leaf.devices / 256) * 16}px` }} />
              ) : null}
            </button>
          );
        })}
      </div>
    </section>
  );
}

function lookOf(leaf: Leaf): string {
  if (leaf.devices > 0) return "bg-kelp-wash text-kelp";
  if (leaf.pool > 128) return "bg-lease-wash text-lease";
  return leaf.kept > 128 ? "hatched text-ink-2" : "text-ink-2";
}

function wordOf(leaf: Leaf): string {
  const parts = [
    leaf.devices && `${leaf.devices} ${leaf.devices === 1 ? "device" : "devices"}`,
    leaf.trouble && `${leaf.trouble} in trouble`,
    leaf.pool && `${leaf.pool} in the DHCP pool`,
    leaf.kept && `${leaf.kept} kept by IT`,
  ].filter(Boolean);
  return parts.join(", ") || "free";
}

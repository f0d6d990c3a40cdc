import { type KeyboardEvent, useRef } from "react";
import { Mark } from "../../parts/Mark";
import { type Column, type Device, held, type Sheet, shown } from "./columns";

type Move = [number, number];

/** One cell: read, or typed into. Enter keeps and goes down, Tab keeps and goes on, Esc leaves it as it was. */
export function Cell({
  at,
  sheet,
  device,
  column,
  narrow,
  inTab,
  typing,
  unread,
  type,
  press,
  open,
  done,
}: {
  at: string;
  sheet: Sheet;
  device: Device;
  column: Column;
  narrow: boolean;
  inTab: boolean;
  typing: string | null;
  unread: boolean;
  type: (text: string) => void;
  press: () => void;
  open: () => void;
  done: (value: string | null, move?: Move) => void;
}) {
  const ended = useRef(false);
  const label = `${column.head} of ${device.name ?? device.key}`;
  const finish = (value: string | null, move?: Move) => {
    if (ended.current) return;
    ended.current = true;
    done(value, move);
  };
  function keys(event: KeyboardEvent<HTMLElement>) {
    const value = (event.currentTarget as HTMLInputElement).value;
    const moves: Record<string, Move> = { Enter: [1, 0], Tab: [0, event.shiftKey ? -1 : 1] };
    const move = moves[event.key];
    if (!move && event.key !== "Escape") return;
    event.preventDefault();
    event.stopPropagation();
    finish(move ? value : null, move ?? [0, 0]);
  }
  const box = "h-full w-full min-w-0 border-2 border-ink bg-sheet px-1 outline-none";
  if (typing !== null && column.field !== "key") {
    ended.current = false;
    return (
      <div role="gridcell" className="min-w-0">
        {column.choices ? (
          <select
            ref={(select) => select?.focus()}
            aria-label={label}
            className={box}
            defaultValue={typing}
            onKeyDown={keys}
            onBlur={(event) => finish(event.target.value)}
          >
            {column.choices(sheet, device).map((choice) => (
              <option key={choice.value} value={choice.value}>
                {choice.word}
              </option>
            ))}
          </select>
        ) : (
          <input
            ref={(input) => input?.focus()}
            aria-label={label}
            className={`${box} ${column.mono ? "font-mono text-small" : ""}`}
            value={typing}
            autoComplete="off"
            spellCheck={false}
            onChange={(event) => type(event.target.value)}
            onKeyDown={keys}
            onBlur={(event) => finish(event.target.value)}
          />
        )}
      </div>
    );
  }
  const value = shown(sheet, device, column);
  const missing =
    unread && !held(device, column.field) && (column.field === "mac" || column.field === "serial");
  return (
    <div
      role="gridcell"
      data-at={at}
      tabIndex={inTab ? 0 : -1}
      aria-label={`${label}: ${value || "nothing"}`}
      title={value}
      className={`flex min-w-0 items-center gap-1.5 overflow-hidden pr-2 -outline-offset-2 ${column.mono ? `font-mono ${narrow ? "text-cell" : "text-small"}` : ""} ${column.field === "name" ? "font-semibold" : ""}`}
      onClick={press}
      onDoubleClick={open}
    >
      {column.field === "key" && device.used && <Mark name="off" word="bought used" />}
      {missing ? (
        <span className="flex items-center gap-1.5 font-sans text-small text-ink-2">
          <Mark name="unread" /> not read
        </span>
      ) : (
        <span className="truncate">
          {value}
          {narrow && column.field === "name" && device.place && (
            <span className="block truncate text-cell font-normal text-ink-2">{device.place}</span>
          )}
        </span>
      )}
    </div>
  );
}

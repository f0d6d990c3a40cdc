import { useVirtualizer } from "@tanstack/react-virtual";
import { type ClipboardEvent, type KeyboardEvent, useEffect, useRef, useState } from "react";
import { Mark } from "../../parts/Mark";
import { Cell } from "./Cell";
import { type Column, changeOf, type Device, type Field, held, pasted, type Sheet } from "./columns";
import type { Edit } from "./useEdits";

type At = { row: number; column: number };
const ROW = 40;
const FINGER = 45; // a row on the phone, with its line

/** The kit as a sheet: arrows walk, Enter or typing edits, Space chooses a row, Ctrl+V pastes cells. */
export function Table({
  sheet,
  devices,
  chosen,
  choose,
  apply,
  columns,
  wide,
  startAt,
  paste,
}: {
  sheet: Sheet;
  devices: Device[];
  chosen: Set<string>;
  choose: (keys: Set<string>) => void;
  apply: (edits: Edit[], words: string) => void;
  columns: Column[];
  wide: boolean;
  startAt: string | null;
  paste: (text: string) => void;
}) {
  const height = wide ? ROW : FINGER;
  const grid = useRef<HTMLDivElement>(null);
  const [scroller, setScroller] = useState<HTMLElement | null>(null);
  const [at, setAt] = useState<At>({ row: 0, column: 1 });
  const [typing, setTyping] = useState<string | null>(null);
  const anchor = useRef(0);
  const wantsFocus = useRef(false);
  useEffect(() => setScroller(grid.current?.closest("main") ?? null), []);
  const rows = useVirtualizer({
    count: devices.length,
    estimateSize: () => height,
    getScrollElement: () => scroller,
    scrollMargin: grid.current?.offsetTop ?? 0,
    overscan: 12,
    scrollPaddingStart: 56, // the heading covers that much
    scrollPaddingEnd: 24,
  });

  // biome-ignore lint/correctness/useExhaustiveDependencies: when another device is asked for, not when rows change
  useEffect(() => {
    const row = startAt ? devices.findIndex((device) => device.key === startAt) : -1;
    if (row < 0) return;
    wantsFocus.current = true;
    setAt({ row, column: columns.findIndex((column) => column.field === "mac") });
    rows.scrollToIndex(row, { align: "center" });
  }, [startAt]);

  useEffect(() => {
    if (!wantsFocus.current || typing !== null) return;
    const cell = grid.current?.querySelector<HTMLElement>(`[data-at="${at.row} ${at.column}"]`);
    if (cell) {
      cell.focus({ preventScroll: true });
      wantsFocus.current = false;
    }
  });

  const go = (row: number, column: number) => {
    const next = {
      row: Math.max(0, Math.min(devices.length - 1, row)),
      column: Math.max(0, Math.min(columns.length - 1, column)),
    };
    wantsFocus.current = true;
    setTyping(null);
    setAt(next);
    rows.scrollToIndex(next.row);
  };
  const columnAt = (index: number) => columns[index] as Column;

  function write(row: number, column: Column, value: string) {
    const device = devices[row];
    if (!device || column.field === "key" || held(device, column.field) === value.trim()) return;
    const words = `${column.head} of ${device.name ?? device.key}`;
    apply([{ device: device.key, change: changeOf(column.field, value) }], words);
  }

  function toggle(row: number) {
    const key = devices[row]?.key;
    if (!key) return;
    const next = new Set(chosen);
    if (!next.delete(key)) next.add(key);
    anchor.current = row;
    choose(next);
  }

  function walk(event: KeyboardEvent) {
    if (typing !== null || (event.target as HTMLElement).closest("input,select")) return;
    const column = columnAt(at.column);
    const control = event.ctrlKey || event.metaKey;
    const steps: Record<string, [number, number]> = {
      ArrowUp: [at.row - 1, at.column],
      ArrowDown: [at.row + 1, at.column],
      ArrowLeft: [at.row, at.column - 1],
      ArrowRight: [at.row, at.column + 1],
      PageUp: [at.row - 15, at.column],
      PageDown: [at.row + 15, at.column],
      Home: control ? [0, at.column] : [at.row, 0],
      End: control ? [devices.length - 1, at.column] : [at.row, columns.length - 1],
    };
    const step = steps[event.key];
    const handled = () => {
      event.preventDefault();
      event.stopPropagation();
    };
    if (step) {
      handled();
      if (event.shiftKey && step[0] !== at.row) {
        const [from, to] = [Math.min(anchor.current, step[0]), Math.max(anchor.current, step[0])];
        choose(new Set(devices.slice(Math.max(0, from), to + 1).map((device) => device.key)));
      } else anchor.current = step[0];
      go(...step);
    } else if (event.key === " ") {
      handled();
      toggle(at.row);
    } else if (event.key === "Escape" && chosen.size > 0) {
      handled();
      choose(new Set());
    } else if (control && event.key === "a") {
      handled();
      choose(new Set(devices.map((device) => device.key)));
    } else if (control && event.key === "d") {
      handled();
      fillDown(column);
    } else if (column.field === "key") {
      return;
    } else if (event.key === "Enter" || event.key === "F2") {
      handled();
      setTyping(held(devices[at.row] as Device, column.field));
    } else if (event.key === "Delete" || event.key === "Backspace") {
      handled();
      if (column.field !== "model") write(at.row, column, "");
    } else if (event.key.length === 1 && !control && !event.altKey && !column.choices) {
      handled();
      setTyping(event.key);
    }
  }

  /** Put the value of the cell under the cursor into that column of every chosen row. */
  function fillDown(column: Column) {
    const from = devices[at.row];
    if (!from || ["key", "mac", "serial"].includes(column.field)) return;
    const change = changeOf(column.field as Field, held(from, column.field));
    const others = devices.filter((device) => chosen.has(device.key) && device.key !== from.key);
    apply(
      others.map((device) => ({ device: device.key, change })),
      `${column.head} of ${others.length} devices`,
    );
  }

  function takePaste(event: ClipboardEvent) {
    if ((event.target as HTMLElement).closest("input,select,textarea")) return;
    const text = event.clipboardData.getData("text/plain").replace(/\r?\n$/, "");
    if (!text) return;
    event.preventDefault();
    const cells = text.split(/\r?\n/).map((line) => line.split("\t"));
    const fits = cells.length <= devices.length - at.row && at.column > 0;
    const edits = new Map<string, Record<string, string | boolean | null>>();
    let strange = !fits;
    cells.forEach((line, down) => {
      const device = devices[at.row + down];
      line.forEach((cell, right) => {
        const column = columns[at.column + right];
        if (!device || !column || column.field === "key") return;
        const value = pasted(sheet, column, cell);
        if (value === null) strange = true;
        else edits.set(device.key, { ...edits.get(device.key), ...changeOf(column.field, value) });
      });
    });
    if (strange) paste(text);
    else
      apply(
        [...edits].map(([device, change]) => ({ device, change })),
        `${edits.size} pasted rows`,
      );
  }

  function takeCopy(event: ClipboardEvent) {
    if ((event.target as HTMLElement).closest("input,select,textarea")) return;
    const list = devices.filter((device) => chosen.has(device.key));
    const here = devices[at.row];
    const text = list.length
      ? list.map((device) => columns.map((column) => held(device, column.field)).join("\t")).join("\n")
      : here
        ? held(here, columnAt(at.column).field)
        : "";
    event.preventDefault();
    event.clipboardData.setData("text/plain", text);
  }

  const widths = columns.map((column) => column.width);
  const template = { gridTemplateColumns: `${wide ? 36 : 44}px ${widths.join(" ")}` };
  const all = devices.length > 0 && devices.every((device) => chosen.has(device.key));
  return (
    <div
      ref={grid}
      role="grid"
      aria-label="Kit"
      aria-rowcount={devices.length + 1}
      aria-colcount={columns.length + 1}
      aria-multiselectable="true"
      tabIndex={-1}
      onKeyDown={walk}
      onPaste={takePaste}
      onCopy={takeCopy}
      data-shortcuts=""
      className="mt-2"
    >
      <div
        role="row"
        aria-rowindex={1}
        style={template}
        className="sticky -top-3 z-10 grid items-center border-b-2 border-ink bg-paper py-1 text-small font-semibold"
      >
        <div role="columnheader">
          <label className="max-md:grid max-md:size-11 max-md:place-items-center">
            <input
              type="checkbox"
              aria-label="Choose all"
              className="size-5"
              checked={all}
              onChange={() => choose(all ? new Set() : new Set(devices.map((device) => device.key)))}
            />
          </label>
        </div>
        {columns.map((column) => (
          <div key={column.field} role="columnheader" className="truncate pr-3">
            {column.head}
          </div>
        ))}
      </div>
      <div role="presentation" style={{ height: rows.getTotalSize() }} className="relative">
        {rows.getVirtualItems().map((item) => {
          const device = devices[item.index] as Device;
          const isChosen = chosen.has(device.key);
          return (
            <div
              key={device.key}
              role="row"
              aria-rowindex={item.index + 2}
              aria-selected={isChosen}
              className={`absolute inset-x-0 grid items-stretch border-b border-hair text-list ${isChosen ? "bg-kelp-wash" : ""}`}
              style={{
                ...template,
                height,
                transform: `translateY(${item.start - rows.options.scrollMargin}px)`,
              }}
            >
              <div role="gridcell" className="flex">
                <label className="flex flex-1 items-center max-md:justify-center">
                  <input
                    type="checkbox"
                    className="size-5"
                    aria-label={`Choose ${device.name ?? device.key}`}
                    checked={isChosen}
                    tabIndex={-1}
                    onChange={() => toggle(item.index)}
                  />
                </label>
              </div>
              {columns.map((column, index) => {
                const here = at.row === item.index && at.column === index;
                return (
                  <Cell
                    key={column.field}
                    at={`${item.index} ${index}`}
                    sheet={sheet}
                    device={device}
                    column={column}
                    narrow={!wide}
                    inTab={here}
                    typing={here ? typing : null}
                    unread={sheet.unread.includes(device.key)}
                    type={setTyping}
                    press={() => {
                      if (!wide && here && column.field !== "key") {
                        setTyping(held(device, column.field)); // a second touch, where nobody has an Enter key
                        return;
                      }
                      anchor.current = item.index;
                      wantsFocus.current = true;
                      setTyping(null);
                      setAt({ row: item.index, column: index });
                    }}
                    open={() => {
                      setAt({ row: item.index, column: index });
                      if (column.field !== "key") setTyping(held(device, column.field));
                    }}
                    done={(value, move) => {
                      if (value !== null) write(item.index, column, value);
                      if (move) go(item.index + move[0], index + move[1]);
                      else setTyping(null);
                    }}
                  />
                );
              })}
            </div>
          );
        })}
      </div>
      {devices.length === 0 && (
        <p className="flex items-center gap-2 py-4 text-ink-2">
          <Mark name="unread" /> No device of the kit fits what is searched for.
        </p>
      )}
    </div>
  );
}

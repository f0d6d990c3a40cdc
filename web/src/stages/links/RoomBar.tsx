import type { Schemas } from "../../api/client";

/** What a target takes of something, what it carries, and what this link brings: one bar with its limit. */
export function RoomBar({ room, target, start }: { room: Schemas["Room"]; target: string; start: string }) {
  const whole = Math.max(room.most, room.used);
  const part = (value: number) => `${(100 * value) / whole}%`;
  const over = room.used > room.most;
  const rest = Math.max(0, room.used - room.brings);
  return (
    <figure className="mt-3" aria-label={`${room.word}: ${room.used} of ${room.most} ${room.unit}`}>
      <figcaption className="text-small">
        {target}: <b className="font-mono font-semibold">{room.used}</b> of{" "}
        <b className="font-mono font-semibold">{room.most}</b> {room.unit}
        {over && <span className="text-red"> – too many</span>}
      </figcaption>
      <div className="relative mt-1 h-5 border border-field bg-paper" aria-hidden="true">
        <div className="absolute inset-y-0 left-0 bg-slate" style={{ width: part(rest) }} />
        <div
          className="absolute inset-y-0 bg-brass-fill"
          style={{ left: part(rest), width: `max(3px, ${part(Math.min(room.brings, room.used))})` }}
        />
        {over && <div className="absolute -inset-y-1 w-0.5 bg-ink" style={{ left: part(room.most) }} />}
      </div>
      <p className="text-note text-ink-2">
        {start} brings {room.brings} {room.unit}.
      </p>
    </figure>
  );
}

import type { Schemas } from "../../api/client";
import { DeviceLink } from "../../parts/DeviceLink";
import { State } from "../../parts/Mark";
import { useTruncated } from "../../parts/useTruncated";
import { CELL_MARKS, CELL_WORDS } from "./Matrix";
import { Seen } from "./Seen";

type Sheet = Schemas["ProofSheet"];
type ToSee = {
  cell: Schemas["ProofRow"];
  check: Schemas["CheckRow"];
  name: string;
  place: string;
  title: string;
};

/** What somebody still has to see with his own eyes, in walking order. */
function toSee(sheet: Sheet): ToSee[] {
  const checks = new Map(sheet.checks.map((check) => [check.check, check]));
  const cells = new Map<string, Schemas["ProofRow"][]>();
  for (const cell of sheet.cells)
    if (cell.witnessed && cell.state !== "proven" && cell.state !== "excepted")
      cells.set(cell.device, [...(cells.get(cell.device) ?? []), cell]);
  return sheet.columns.flatMap((column) =>
    (cells.get(column.key) ?? []).flatMap((cell) => {
      const check = checks.get(cell.check);
      return check ? [{ cell, check, name: column.name, place: column.place, title: check.title }] : [];
    }),
  );
}

/** Leads to the first thing that is left to see. */
export function showFirst() {
  const section = document.getElementById("to-see");
  section?.scrollIntoView();
  section?.querySelector<HTMLElement>("input, button")?.focus({ preventScroll: true });
}

/** The walk with the phone: place by place, what has to be seen, and one tap for each. */
export function Witnessing({ sheet }: { sheet: Sheet }) {
  const open = toSee(sheet);
  const [shown, more] = useTruncated(open, 40);
  const all = sheet.cells.filter((cell) => cell.witnessed);
  if (all.length === 0) return null;
  return (
    <section
      aria-label="To be seen with your own eyes"
      id="to-see"
      className="mt-6 max-md:order-1 max-md:mt-1 max-md:mb-6"
    >
      <h2 className="flex flex-wrap justify-between gap-x-4 border-b-2 border-ink pb-1 font-semibold">
        To be seen with your own eyes
        <span className="font-normal text-ink-2">
          {all.length - open.length} of {all.length} done
        </span>
      </h2>
      {open.length === 0 && <p className="py-3 text-ink-2">Everything has been seen.</p>}
      <ul>
        {shown.map(({ cell, check, name, place, title }, at) => (
          <li
            key={`${cell.device} ${cell.check}`}
            aria-label={`${name}, ${title}`}
            className="border-b border-hair py-2 max-md:py-3"
          >
            {place !== shown[at - 1]?.place && (
              <p className="pb-1 text-small font-semibold text-ink-2">{place}</p>
            )}
            <div className="flex flex-wrap items-start gap-x-6 gap-y-2">
              <div className="min-w-0 flex-1 basis-72">
                <p className="[overflow-wrap:anywhere]">
                  <b className="font-semibold">{title}</b>,{" "}
                  <DeviceLink device={cell.device}>{name}</DeviceLink>
                </p>
                <p className="text-small text-ink-2 [overflow-wrap:anywhere]">{cell.expected}</p>
                {cell.state !== "planned" && (
                  <p className="text-small">
                    <State name={CELL_MARKS[cell.state]}>{CELL_WORDS[cell.state]}</State>{" "}
                    {cell.changed.length > 0 ? cell.changed.join("; ") : cell.measured}
                  </p>
                )}
              </div>
              <div className={`max-md:w-full ${check.needs_person ? "md:w-96" : ""}`}>
                <Seen cell={cell} check={check} name={name} big />
              </div>
            </div>
          </li>
        ))}
      </ul>
      {more}
    </section>
  );
}

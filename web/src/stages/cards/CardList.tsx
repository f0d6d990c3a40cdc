import { Trouble } from "../../parts/Feedback";
import { State } from "../../parts/Mark";
import { CardItem } from "./CardItem";
import { type Item, useTick } from "./useCard";

/** The items of a card: those that are open, so many `atOnce`; the rest and what is done folds. */
export function CardList({ subject, rows, atOnce }: { subject: string; rows: Item[]; atOnce: number }) {
  const tick = useTick(subject);
  const settled = rows.filter((row) => row.state === "done" || row.state === "not-needed");
  const ready = rows.filter((row) => row.state === "open");
  const waiting = rows.filter((row) => row.state === "waits");
  const first = ready.slice(0, atOnce);
  const rest = [...ready.slice(atOnce), ...waiting];
  const line = (item: Item) => (
    <CardItem
      key={`${item.key} ${item.state} ${item.at}`}
      item={item}
      tick={tick.mutate}
      busy={tick.isPending}
    />
  );
  return (
    <>
      {tick.error && <Trouble error={tick.error} />}
      {first.length > 0 ? (
        <ul aria-label="Open items">{first.map(line)}</ul>
      ) : (
        <p className="py-3">
          {settled.length > 0 && waiting.length === 0 ? (
            <State name="set">Nothing is open here.</State>
          ) : (
            "Nothing can be done here yet."
          )}
        </p>
      )}
      {rest.length > 0 && <Folded word={`${rest.length} more`} rows={rest} line={line} />}
      {settled.length > 0 && <Folded word={`${settled.length} settled`} rows={settled} line={line} />}
    </>
  );
}

function Folded({
  word,
  rows,
  line,
}: {
  word: string;
  rows: Item[];
  line: (item: Item) => React.JSX.Element;
}) {
  return (
    <details className="border-t border-hair">
      <summary className="min-h-11 cursor-pointer py-2.5 text-small font-semibold">{word}</summary>
      <ul>{rows.map(line)}</ul>
    </details>
  );
}

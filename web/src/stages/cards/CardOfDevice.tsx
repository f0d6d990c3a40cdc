import { useState } from "react";
import { Link } from "react-router";
import { useSiteKey } from "../../api/site";
import { Loading } from "../../parts/Feedback";
import { CardList } from "./CardList";
import { type Phase, useCard } from "./useCard";

/** A device's card where it is worked on: what matters now, or these parts of the work; fetched when it is opened. */
export function CardOfDevice({ device, parts }: { device: string; parts?: Phase[] }) {
  const site = useSiteKey();
  const [open, setOpen] = useState(false);
  const card = useCard(open ? device : undefined);
  const now = card.data?.rows.find((row) => row.now)?.phase ?? "yearly";
  const shown = parts ?? [now];
  const rows = card.data?.rows.filter((row) => shown.includes(row.phase)) ?? [];
  return (
    <details
      className="border-y border-hair"
      open={open}
      onToggle={(event) => setOpen(event.currentTarget.open)}
    >
      <summary className="min-h-11 cursor-pointer py-2.5 font-semibold">
        Its job card
        {card.data && <span className="font-normal text-ink-2"> {card.data.open} open in all</span>}
      </summary>
      {open && card.isPending && <Loading what="the card" />}
      {card.data && rows.length > 0 && <CardList subject={device} rows={rows} atOnce={card.data.at_once} />}
      {card.data && rows.length === 0 && <p className="py-2 text-small">Nothing of it belongs here.</p>}
      {card.data && (
        <Link
          className="inline-flex min-h-11 items-center text-small"
          to={`/sites/${site}/cards?part=${rows[0]?.phase ?? now}&of=${device}`}
        >
          Its whole card
        </Link>
      )}
    </details>
  );
}

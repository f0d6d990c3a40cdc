import { useQuery } from "@tanstack/react-query";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSiteKey } from "../../api/site";
import { LargeDialog } from "../../parts/Dialog";
import { Loading, Trouble } from "../../parts/Feedback";
import { Mark } from "../../parts/Mark";
import { useTruncated } from "../../parts/useTruncated";
import { seatWord } from "./words";

/** What could be tied, said before it is done; what is proven or typed stays where it is. */
export function Proposal({ close }: { close: () => void }) {
  const key = useSiteKey();
  const wanted = useQuery({
    queryKey: ["site", key, "link-proposal"],
    queryFn: () => ask(client.GET("/api/sites/{key}/links/proposal", { params: { path: { key } } })),
  });
  const apply = useChange((site, revision: number) =>
    ask(
      client.POST("/api/sites/{key}/links/proposal", { params: { path: { key: site } }, body: { revision } }),
    ),
  );
  const data = wanted.data;
  return (
    <LargeDialog title="What could be tied" close={close} wide>
      {wanted.isPending && <Loading what="the proposal" />}
      {wanted.error && <Trouble error={wanted.error} retry={() => wanted.refetch()} />}
      {data && (
        <div className="mt-2 grid gap-3">
          <p className="text-ink-2">
            Channels follow the walk, recorders are filled evenly, none beyond its limits. What is proven or
            typed stays.
          </p>
          {data.shortfall.map((said) => (
            <p key={said} className="flex gap-2 border-l-4 border-red pl-3 font-semibold">
              {said}
            </p>
          ))}
          {data.left.length > 0 && (
            <p>
              Not tied: {data.left.slice(0, 12).join(", ")}
              {data.left.length > 12 && ` and ${data.left.length - 12} more`}.
              {data.shortfall.length > 0 &&
                (data.proved ? " No more fits." : " More may fit; no way was found.")}
            </p>
          )}
          {data.changes.length === 0 ? (
            <p className="font-semibold">Nothing is left to propose.</p>
          ) : (
            <Changes changes={data.changes} />
          )}
          {apply.error && <Trouble error={apply.error} />}
          <button
            type="button"
            className="btn btn-main justify-self-start"
            disabled={data.changes.length === 0 || apply.isPending}
            onClick={() => apply.mutate(data.revision, { onSuccess: close })}
          >
            {data.changes.every((change) => change.action === "remove")
              ? `Take ${data.changes.length} out as proposed`
              : `Tie ${data.changes.filter((change) => change.action !== "remove").length} as proposed`}
          </button>
        </div>
      )}
    </LargeDialog>
  );
}

const WORDS = { add: "new", number: "number", move: "moves", remove: "taken out" } as const;
const MARKS = { add: "planned", number: "planned", move: "off", remove: "cut" } as const;

function Changes({ changes }: { changes: Schemas["ProposedChange"][] }) {
  const [shown, more] = useTruncated(changes, 80);
  return (
    <section className="max-h-[50vh] overflow-auto" tabIndex={0} aria-label="Proposed links">
      <table className="w-full text-list">
        <thead>
          <tr className="border-b-2 border-ink text-left text-small">
            <th scope="col" className="w-24">
              What
            </th>
            <th scope="col">From</th>
            <th scope="col">To</th>
            <th scope="col">Number</th>
            <th scope="col">Why</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((change) => (
            <tr
              key={`${change.start_name} ${change.to_name} ${change.slot}`}
              className="border-b border-hair"
            >
              <td className="py-1">
                <span className="flex items-center gap-2">
                  <Mark name={MARKS[change.action]} />
                  {WORDS[change.action]}
                </span>
              </td>
              <td className="pr-2">{change.start_name}</td>
              <td className="pr-2">{change.to_name}</td>
              <td className="pr-2 font-mono">{seatWord(change.word || null, change.slot)}</td>
              <td className="text-small text-ink-2">{change.why}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {more}
    </section>
  );
}

import type { Schemas } from "../../api/client";
import { DeviceLink } from "../../parts/DeviceLink";
import { useKeys } from "../../parts/keys";
import { watts } from "../../parts/units";
import type { Trial } from "./Loads";

type Switch = Schemas["SwitchLoad"];
type Fed = Schemas["FedRow"];
type Press = { fed: Fed; home: Schemas["HomeRow"] };

/** What a switch feeds, the fewest that must go elsewhere, and where they could go. */
export function SwitchSlip({ item, trial }: { item: Switch; trial: Trial }) {
  const moving = item.fed.filter((fed) => fed.moves);
  const presses: Press[] = moving.flatMap((fed) => fed.homes.map((home) => ({ fed, home }))).slice(0, 6);
  const move = ({ fed, home }: Press) =>
    trial.changeDevice(fed.device, {
      powered_by: { device: home.device, ...(home.port === null ? {} : { port: home.port }) },
    });
  useKeys(Object.fromEntries(presses.map((press, at) => [String(at + 1), () => move(press)])));
  const sum = moving.reduce((all, fed) => all + fed.counts_w, 0);
  return (
    <>
      <h2 className="text-lead font-semibold">{item.name}</h2>
      <p className="text-small text-ink-2">
        {item.verdict === "over"
          ? item.reserves === "class"
            ? `It reserves by class: the last ports get no power, although only ${watts(item.by_peak_w)} are drawn at night.`
            : "It counts what is drawn at most: at night the last ports get no power."
          : item.verdict === "tight"
            ? "It holds, but not with the margin on top of what is drawn at night."
            : item.budget_w === null
              ? "What it gives over its ports is not known: write it into its profile."
              : "What it feeds fits."}
      </p>
      {item.fed.length > 0 && (
        <table className="mt-2 w-full border-collapse text-small">
          <thead>
            <tr className="text-left text-note text-ink-2">
              <th className="pr-3 font-normal">port</th>
              <th className="font-normal">Device</th>
              <th className="text-right font-normal">class</th>
              <th className="text-right font-normal">W</th>
            </tr>
          </thead>
          <tbody>
            {item.fed.map((fed) => (
              <tr
                key={fed.device}
                className={fed.moves ? "border-y-2 border-brass-fill bg-brass-wash" : "border-t border-hair"}
              >
                <td className="py-0.5 font-mono">{fed.port ?? "–"}</td>
                <td className="w-full max-w-0 truncate py-0.5" title={fed.name}>
                  <DeviceLink device={fed.device}>{fed.name}</DeviceLink>
                  {fed.moves && <b className="text-brass"> moves</b>}
                </td>
                <td className="py-0.5 pl-1 text-right">{fed.poe_class ?? "none"}</td>
                <td className="py-0.5 pl-1 text-right font-mono">{fed.counts_w.toFixed(1)}</td>
              </tr>
            ))}
            <tr className="border-t-2 border-ink font-bold">
              <td colSpan={3} className="py-0.5">
                {item.reserves === "class" ? "reserved" : "drawn at most"}
                {item.budget_w !== null && `, ${item.budget_w} W at most`}
              </td>
              <td className="py-0.5 text-right font-mono">{item.counts_w.toFixed(1)}</td>
            </tr>
          </tbody>
        </table>
      )}
      {moving.length > 0 && item.budget_w !== null && (
        <>
          <h3 className="pt-3 font-semibold text-ink-2">
            The smallest set that helps: {moving.length === 1 ? "one" : moving.length} of {watts(sum)}
          </h3>
          <p className="text-small">
            Without {moving.map((fed) => fed.name).join(", ")} it is <b>{watts(item.counts_w - sum)}</b>,{" "}
            {watts(item.budget_w - item.counts_w + sum)} to spare.
          </p>
          <div className="grid gap-2 pt-3">
            {presses.map((press, at) => (
              <button
                key={`${press.fed.device} ${press.home.device}`}
                type="button"
                className="btn min-h-14 whitespace-normal"
                onClick={() => move(press)}
              >
                <kbd className="key max-md:hidden">{at + 1}</kbd>
                <span className="min-w-0 leading-5">
                  {press.fed.name} from {press.home.name}
                  <span className="block text-cell font-normal text-ink-2">
                    {press.home.port ? `port ${press.home.port}, ` : ""}leaves {watts(press.home.spare_w)}{" "}
                    there
                    {press.home.same_place ? ", same place" : "; look at the cable’s length"}
                  </span>
                </span>
              </button>
            ))}
            {presses.length === 0 && (
              <p className="text-small">
                No other switch here has room: an injector of its own, a larger switch, or cameras that draw
                less.
              </p>
            )}
          </div>
        </>
      )}
    </>
  );
}

import type { Schemas } from "../../api/client";
import { Mark } from "../../parts/Mark";
import { watts } from "../../parts/units";
import { Comb, Ruler } from "./bars";
import { Row } from "./Loads";

/** A recorder against its channels, what it takes in, and the days that are promised. */
export function RecorderRow({ item }: { item: Schemas["RecorderLoad"] }) {
  const short = item.days !== null && item.wanted_days !== null && item.days < item.wanted_days;
  const held = item.days === null ? null : Math.floor(item.days * 10) / 10;
  const most =
    Math.max(item.wanted_days ?? 0, Math.min(item.days ?? 0, (item.wanted_days ?? 30) * 1.6), 1) * 1.1;
  return (
    <Row title={item.name} detail={item.disks}>
      <div className="grid gap-x-8 gap-y-2 text-small md:grid-cols-3">
        <div>
          <p>
            <b>{item.channels_used}</b>
            {item.channels !== null ? ` of ${item.channels}` : ""} channels
            {item.playback_at_once !== null && (
              <span className="text-ink-2">, plays {item.playback_at_once} at once</span>
            )}
          </p>
          <Comb used={item.channels_used} seats={item.channels ?? item.channels_used} />
        </div>
        <div>
          <p className="flex justify-between gap-2">
            <span>
              <b>{item.incoming_mbps.toFixed(0)}</b> Mbit/s in
            </span>
            <span className="text-ink-2">
              {item.incoming_limit_mbps === null ? "limit not known" : `${item.incoming_limit_mbps} at most`}
            </span>
          </p>
          <Ruler
            value={item.incoming_mbps}
            limit={item.incoming_limit_mbps}
            most={Math.max(item.incoming_limit_mbps ?? 0, item.incoming_mbps, 1) * 1.15}
            said={`${item.incoming_mbps.toFixed(0)} Mbit/s in`}
          />
        </div>
        <div>
          <p className="flex justify-between gap-2">
            <span>
              {held === null ? (
                "nothing is recorded"
              ) : (
                <>
                  <b>{held}</b>
                  {item.wanted_days !== null && ` of ${item.wanted_days}`} days kept
                  {short && (
                    <b className="text-brass">, {((item.wanted_days ?? 0) - held).toFixed(1)} short</b>
                  )}
                </>
              )}
            </span>
            {item.wanted_days === null && <span className="text-ink-2">promise not known</span>}
          </p>
          {item.days !== null && (
            <Ruler value={item.days} limit={item.wanted_days} most={most} said={`${held} days kept`} below />
          )}
        </div>
      </div>
    </Row>
  );
}

/** A switch's watts by class, by day and at night, against what it gives. */
export function SwitchRow({
  item,
  chosen,
  choose,
  most,
}: {
  item: Schemas["SwitchLoad"];
  chosen: boolean;
  choose: () => void;
  most: number;
}) {
  const over = item.verdict === "over";
  const limit = item.budget_w;
  const end = Math.max(most, 1) * 1.05;
  const bars: [number, string, boolean][] = [
    [item.by_class_w, "reserved by class", item.reserves === "class"],
    [item.by_draw_w, "drawn by day", false],
    [
      item.by_peak_w,
      `drawn at night, ${item.peak_with_margin_w.toFixed(1)} with the margin`,
      item.reserves === "draw",
    ],
  ];
  const simple = item.fed.length === 0;
  return (
    <section
      aria-label={`Power from ${item.name}`}
      className={`grid gap-x-4 gap-y-1 border-t py-2 md:grid-cols-[112px_minmax(0,1fr)] ${over ? "border-y-2 border-brass-fill bg-brass-wash" : "border-hair"}`}
    >
      <div className="min-w-0">
        <h2 className="min-w-0">
          <button
            type="button"
            className={`min-h-11 max-w-full truncate text-left text-list font-semibold md:min-h-0 ${chosen ? "border-b-2 border-ink" : "underline decoration-field underline-offset-4"}`}
            aria-pressed={chosen}
            onClick={choose}
            title={item.name}
          >
            {item.name}
          </button>
        </h2>
        <p className="text-cell text-ink-2">
          {item.ports_used}
          {item.ports !== null ? ` of ${item.ports}` : ""}{" "}
          {item.family.includes("recorder") ? "own ports" : "ports"}
        </p>
        {over && item.spare_w !== null ? (
          <p className="flex items-center gap-1.5 text-note font-semibold text-brass">
            <Mark name="off" /> over by {watts(-item.spare_w)}
          </p>
        ) : item.verdict === "tight" ? (
          <p className="flex items-center gap-1.5 text-note font-semibold text-brass">
            <Mark name="off" /> no margin
          </p>
        ) : (
          item.spare_w !== null && <p className="text-cell text-ink-2">{watts(item.spare_w)} to spare</p>
        )}
      </div>
      {simple ? (
        <p className="text-small text-ink-2">It feeds nothing over its ports.</p>
      ) : (
        <div className="grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-4 text-note">
          {bars.map(([value, words, counted]) => (
            <div key={words} className="contents">
              <Ruler
                value={value}
                limit={limit}
                most={end}
                said={`${watts(value)} ${words}`}
                thin={!counted}
              />
              <p className="w-72 max-md:w-40">
                <b className="font-mono">{watts(value)}</b> {words}
              </p>
            </div>
          ))}
          <p className="col-span-2 text-cell text-ink-2">
            {limit === null
              ? "What it gives is not known."
              : `The mark: ${limit} W. It counts what is ${item.reserves === "class" ? "reserved by class" : "drawn at most"}.`}
          </p>
        </div>
      )}
    </section>
  );
}

export function UplinkRows({ uplinks }: { uplinks: Schemas["UplinkRow"][] }) {
  return (
    <Row title="Uplinks" detail="all recorded streams">
      <div className="grid gap-x-8 gap-y-2 text-small md:grid-cols-3">
        {uplinks.map((item) => (
          <div key={item.device}>
            <p className="truncate" title={`${item.name} to ${item.into}`}>
              {item.name} to {item.into}
            </p>
            <Ruler
              value={item.mbps}
              limit={item.limit_mbps}
              warn={item.warn_mbps}
              most={item.limit_mbps}
              said={`${item.mbps.toFixed(1)} of ${item.limit_mbps} Mbit/s`}
            />
            <p className="flex justify-between">
              <span>
                <b>{item.mbps.toFixed(0)}</b> of {item.limit_mbps} Mbit/s
              </span>
              <span className="text-ink-2">{item.warn_mbps} warns</span>
            </p>
          </div>
        ))}
      </div>
    </Row>
  );
}

import { Mark } from "../../parts/Mark";
import type { Case } from "./useCase";

const MOST = 6; // places; a longer way is cut in its middle

/** The way from the laptop to what is silent, and where it stops. */
export function Way({ data }: { data: Case }) {
  const stops = data.stops;
  const places = data.way.map((place, number) => ({ ...place, number }));
  const shown =
    places.length > MOST ? [...places.slice(0, 2), ...places.slice(places.length - MOST + 2)] : places;
  if (places.length < 2) return null;
  const stop = stops === null ? undefined : places[stops];
  const where = !stop
    ? "every place on it answers"
    : stop.state === "silent"
      ? `it stops before ${stop.name}`
      : `from ${stop.name} on nobody has looked yet`;
  return (
    <figure aria-label={`The way from the laptop: ${where}`} className="py-3">
      <ol className="flex flex-col md:flex-row md:items-stretch">
        {shown.map((place, at) => {
          const good = stops === null || place.number < stops;
          const broken = place.number === stops && place.state === "silent";
          const unknown = place.number === stops && !broken;
          const cable = [
            place.port === null ? "" : `port ${place.port}`,
            place.cable_m === null ? "" : `${place.cable_m} m`,
          ];
          const cut = at > 0 && place.number - (shown[at - 1]?.number ?? 0) > 1;
          return (
            <li
              key={place.key}
              className="flex min-w-0 flex-col md:flex-row md:items-center md:[&:not(:first-child)]:flex-1"
            >
              {at > 0 && (
                <span
                  className={`relative flex min-h-8 min-w-16 flex-1 items-center justify-center gap-1 text-cell max-md:ml-4 max-md:justify-start max-md:border-l-4 max-md:pl-4 md:flex-col md:border-none ${
                    good ? "text-ink-2 max-md:border-kelp" : "max-md:border-dotted max-md:border-ink"
                  }`}
                >
                  <span className="md:min-h-4">
                    {cut ? "…" : ""} {cable[0]}
                  </span>
                  <span
                    aria-hidden="true"
                    className={`w-full max-md:hidden ${good ? "border-t-4 border-kelp" : "border-t-2 border-dotted border-ink"}`}
                  />
                  <span className={`md:min-h-4 ${broken ? "font-semibold text-red" : ""}`}>
                    {broken ? (
                      <span className="inline-flex items-center gap-1">
                        <Mark name="broken" size={12} />
                        it stops here
                      </span>
                    ) : unknown ? (
                      "not looked at"
                    ) : (
                      cable[1]
                    )}
                  </span>
                </span>
              )}
              <span
                className={`flex min-w-0 items-center justify-between gap-2 border-2 px-2.5 py-1 md:max-w-44 ${
                  good ? "border-kelp bg-kelp-wash" : broken ? "border-red" : "border-dashed border-field"
                }`}
              >
                <span className="min-w-0">
                  <b className="block truncate text-small" title={place.name}>
                    {place.name}
                  </b>
                  <span className="font-mono text-cell">{place.address ?? "\u00a0"}</span>
                </span>
                {good && <Mark name="proven" size={12} word="answers" />}
                {!good && place.state === "silent" && <Mark name="broken" size={12} word="silent" />}
              </span>
            </li>
          );
        })}
      </ol>
    </figure>
  );
}

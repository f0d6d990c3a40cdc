import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Refused, type Schemas } from "../../api/client";
import { useSiteKey } from "../../api/site";
import { Trouble } from "../../parts/Feedback";
import { rate } from "./words";

type Picture = Schemas["Picture"];
const SCENES: Record<Picture["scene"], string> = {
  calm: "calm: a store room, a corridor at night",
  usual: "usual: a hall, a yard with some traffic",
  busy: "busy: a street, leaves, rain, a turning camera",
};
const CODECS: Record<Picture["codec"], string> = { h264: "H.264", h265: "H.265", mjpeg: "MJPEG" };

/** A rate that nobody knows, estimated from the picture, with its range. */
export function Estimating({ name, take }: { name: string; take: (kbps: number) => void }) {
  const site = useSiteKey();
  const [size, setSize] = useState("1920 × 1080");
  const [fps, setFps] = useState("15");
  const [codec, setCodec] = useState<Picture["codec"]>("h265");
  const [scene, setScene] = useState<Picture["scene"]>("usual");
  const pixels = /^\s*(\d+)\s*[x×*]\s*(\d+)\s*$/i.exec(size);
  const pictures = Number(fps.replace(",", "."));
  const picture =
    pixels && pictures > 0
      ? { width: Number(pixels[1]), height: Number(pixels[2]), fps: pictures, codec, scene }
      : null;
  const found = useQuery<Schemas["EstimateRow"], Refused>({
    queryKey: ["estimate", picture],
    queryFn: () =>
      ask(
        client.POST("/api/sites/{key}/recording/estimate", {
          params: { path: { key: site } },
          body: picture as Picture,
        }),
      ),
    enabled: picture !== null,
    retry: false,
  });
  return (
    <fieldset className="flex flex-wrap items-end gap-3 pb-3 pl-16">
      <legend className="sr-only">Estimate the rate of {name}</legend>
      <label className="grid gap-0.5 text-cell">
        pixels
        <input
          className="box w-32 font-mono"
          value={size}
          onChange={(event) => setSize(event.target.value)}
        />
      </label>
      <label className="grid gap-0.5 text-cell">
        pictures a second
        <input className="box w-20 font-mono" value={fps} onChange={(event) => setFps(event.target.value)} />
      </label>
      <label className="grid gap-0.5 text-cell">
        codec
        <select
          className="box"
          value={codec}
          onChange={(event) => setCodec(event.target.value as Picture["codec"])}
        >
          {Object.entries(CODECS).map(([key, word]) => (
            <option key={key} value={key}>
              {word}
            </option>
          ))}
        </select>
      </label>
      <label className="grid gap-0.5 text-cell">
        what is seen
        <select
          className="box"
          value={scene}
          onChange={(event) => setScene(event.target.value as Picture["scene"])}
        >
          {Object.entries(SCENES).map(([key, word]) => (
            <option key={key} value={key}>
              {word}
            </option>
          ))}
        </select>
      </label>
      {found.data && picture && (
        <p className="basis-full text-small" aria-live="polite">
          An estimate: <b className="font-semibold">{rate(Math.round(found.data.kbps))}</b>, between{" "}
          {rate(Math.round(found.data.low_kbps))} and {rate(Math.round(found.data.high_kbps))}.{" "}
          {found.data.source}
        </p>
      )}
      {found.data && picture && (
        <button type="button" className="btn" onClick={() => take(Math.round(found.data.kbps))}>
          Reckon with {rate(Math.round(found.data.kbps))}
        </button>
      )}
      {!picture && (
        <p className="text-small font-semibold text-red">
          A size like 1920 × 1080 and pictures a second are expected.
        </p>
      )}
      {found.error && <Trouble error={found.error} />}
    </fieldset>
  );
}

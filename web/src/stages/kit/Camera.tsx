import { useEffect, useRef, useState } from "react";

const LOOK_EVERY_MS = 120;
const FORMATS = ["qr_code", "data_matrix", "code_128", "code_39", "code_93", "ean_13"] as const;

type Detector = { detect: (source: HTMLVideoElement) => Promise<{ rawValue: string }[]> };

/** What reads codes: the browser's own detector where it has one that knows them, else the one that ships with the page. */
async function codeDetector(): Promise<Detector> {
  const own = (window as { BarcodeDetector?: OwnDetector }).BarcodeDetector;
  const formats = own ? await own.getSupportedFormats().catch(() => []) : [];
  if (own && formats.includes("qr_code"))
    return new own({ formats: FORMATS.filter((format) => formats.includes(format)) });
  const [{ BarcodeDetector, prepareZXingModule }, { default: reader }] = await Promise.all([
    import("barcode-detector/ponyfill"),
    import("zxing-wasm/reader/zxing_reader.wasm?url"),
  ]);
  prepareZXingModule({
    overrides: {
      locateFile: (path: string, prefix: string) => (path.endsWith(".wasm") ? reader : prefix + path),
    },
  });
  return new BarcodeDetector({ formats: [...FORMATS] });
}

type OwnDetector = {
  new (options: { formats: string[] }): Detector;
  getSupportedFormats: () => Promise<string[]>;
};

/** The laptop's or phone's camera reads codes; the same code counts once in three seconds. */
export function Camera({ read }: { read: (text: string) => void }) {
  const video = useRef<HTMLVideoElement>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const latest = useRef(read);
  latest.current = read;
  useEffect(() => {
    let stop: (() => void) | null = null;
    let gone = false;
    const seen = new Map<string, number>();
    async function film() {
      if (!navigator.mediaDevices) {
        setTrouble("The browser gives the camera only to pages of this machine or with a certificate.");
        return;
      }
      const [detector, stream] = await Promise.all([
        codeDetector(),
        navigator.mediaDevices.getUserMedia({ video: { facingMode: "environment" } }),
      ]);
      stop = () => {
        for (const track of stream.getTracks()) track.stop();
      };
      if (gone || !video.current) return stop();
      video.current.srcObject = stream;
      await video.current.play();
      while (!gone && video.current) {
        for (const { rawValue: text } of await detector.detect(video.current)) {
          if (!text || Date.now() - (seen.get(text) ?? 0) < 3000) continue;
          seen.set(text, Date.now());
          latest.current(text);
        }
        await new Promise((done) => setTimeout(done, LOOK_EVERY_MS));
      }
    }
    film().catch((error: Error) => setTrouble(wordsFor(error)));
    return () => {
      gone = true;
      stop?.();
    };
  }, []);
  return (
    <div className="mt-4">
      {trouble ? (
        <p role="alert" className="border-l-4 border-red bg-red-wash px-4 py-2">
          {trouble}
        </p>
      ) : (
        // biome-ignore lint/a11y/useMediaCaption: a live picture of a label has no words to caption
        <video ref={video} className="w-full border border-field bg-wash" aria-label="What the camera sees" />
      )}
    </div>
  );
}

function wordsFor(error: Error): string {
  if (error.name === "NotAllowedError")
    return "The browser was told not to use the camera; allow it for this page.";
  if (error.name === "NotFoundError")
    return "This machine has no camera; a scanner or the keyboard does it too.";
  return `The camera cannot be used: ${error.message}`;
}

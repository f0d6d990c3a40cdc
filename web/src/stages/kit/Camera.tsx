import { useEffect, useRef, useState } from "react";

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
      const { BrowserMultiFormatReader } = await import("@zxing/browser");
      if (gone || !video.current) return;
      const reader = new BrowserMultiFormatReader();
      const controls = await reader.decodeFromConstraints(
        { video: { facingMode: "environment" } },
        video.current,
        (found) => {
          const text = found?.getText();
          if (!text || Date.now() - (seen.get(text) ?? 0) < 3000) return;
          seen.set(text, Date.now());
          latest.current(text);
        },
      );
      stop = () => controls.stop();
      if (gone) stop();
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

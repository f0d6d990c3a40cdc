import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useEffect, useRef, useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useSiteKey } from "../../api/site";
import { Mark } from "../../parts/Mark";

/** Where a device moves to, and what that entails, said before it is done. */
export function Moving({
  device,
  address,
  type,
  move,
  busy,
}: {
  device: Schemas["Placed"];
  address: string;
  type: (address: string | null) => void;
  move: (event: FormEvent) => void;
  busy: boolean;
}) {
  const preview = useMovePreview(device.key, address, address !== device.address);
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => {
    input.current?.select();
  }, []);
  return (
    <form
      onSubmit={move}
      onKeyDown={(event) => event.key === "Escape" && type(null)}
      className="mt-3 grid gap-2"
      aria-label={`Move ${device.name}`}
    >
      <label className="grid gap-1 font-semibold">
        New address
        <input
          ref={input}
          className="box font-mono text-lead"
          value={address}
          inputMode="decimal"
          autoComplete="off"
          aria-describedby="move-preview"
          onChange={(event) => type(event.target.value)}
        />
      </label>
      <div id="move-preview" aria-live="polite" className="text-small">
        {address === device.address ? (
          <p className="text-ink-2">Type it, press a cell, or drag the device to one.</p>
        ) : preview.error ? (
          <p className="flex gap-2 font-medium text-red">
            <Mark name="broken" /> {preview.error.message}
          </p>
        ) : preview.data ? (
          <Entails preview={preview.data} />
        ) : null}
      </div>
      <div className="flex gap-3">
        <button type="submit" className="btn btn-main" disabled={busy || address === device.address}>
          Move it
        </button>
        <button type="button" className="btn" onClick={() => type(null)}>
          Leave it
        </button>
      </div>
    </form>
  );
}

export function useMovePreview(device: string, address: string, wanted: boolean) {
  const site = useSiteKey();
  const [settled, setSettled] = useState(address);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(address), 150);
    return () => clearTimeout(timer);
  }, [address]);
  return useQuery({
    queryKey: ["site", site, "move", device, settled],
    enabled: wanted && settled === address,
    retry: false,
    queryFn: () =>
      ask(
        client.POST("/api/sites/{key}/addresses/move", {
          params: { path: { key: site } },
          body: { device, address: settled.trim() },
        }),
      ),
  });
}

/** What a move entails: whether it may be, what it solves and causes, who has to be told. */
export function Entails({ preview }: { preview: Schemas["MovePreview"] }) {
  return (
    <>
      <p className={`flex gap-2 font-medium ${preview.possible ? "" : "text-red"}`}>
        <Mark name={preview.possible ? "set" : "broken"} /> {preview.sentence}
      </p>
      {preview.solved.slice(0, 3).map((sentence) => (
        <p key={sentence} className="text-ink-2">
          Then no longer: {sentence}
        </p>
      ))}
      {preview.caused.slice(0, 3).map((sentence) => (
        <p key={sentence} className="text-brass">
          Then: {sentence}
        </p>
      ))}
      {preview.partners.length > 0 && (
        <p>
          Also to be typed: {preview.partners.map((item) => `${item.setting} in ${item.name}`).join("; ")}.
        </p>
      )}
    </>
  );
}

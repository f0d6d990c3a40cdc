import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client } from "../../api/client";
import { useSiteKey } from "../../api/site";

/** The same run on a phone: a code to scan, where the server listens beyond this machine. */
export function Phone({ hand }: { hand: number }) {
  const key = useSiteKey();
  const [open, setOpen] = useState(false);
  const way = useQuery({
    queryKey: ["site", key, "phone", hand],
    queryFn: () => ask(client.GET("/api/sites/{key}/phone", { params: { path: { key }, query: { hand } } })),
    enabled: open,
  });
  return (
    <>
      <button type="button" className="btn text-small" aria-expanded={open} onClick={() => setOpen(!open)}>
        On the phone
      </button>
      {open && way.data && (
        <div className="slip w-full text-ink">
          {way.data.ways.map((found) => (
            <figure key={found.address}>
              <img
                alt={`Code that opens ${found.address}`}
                src={`data:image/svg+xml;utf8,${encodeURIComponent(found.svg)}`}
                className="w-44 bg-white p-2"
              />
              <figcaption className="font-mono text-note break-all">{found.address}</figcaption>
            </figure>
          ))}
          <p className="text-small">{way.data.note}</p>
          {way.data.fingerprint && (
            <p className="text-small">
              The phone asks once whether to trust this server. It is the right one if it shows the SHA-256
              fingerprint <span className="font-mono break-all">{way.data.fingerprint}</span>.
            </p>
          )}
        </div>
      )}
    </>
  );
}

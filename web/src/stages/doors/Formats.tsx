import { useState } from "react";
import { Trouble } from "../../parts/Feedback";
import { slug } from "../../parts/slug";
import type { AccessSheet } from "./Access";
import { useItem } from "./useItem";

/** "facility 1 8; number 9 16": the name of each field, its first bit and how many it has. */
function readFields(text: string): { name: string; first: number; bits: number }[] | null {
  const rows = text
    .split(";")
    .map((row) => /^\s*([a-z0-9-]+)\s+(\d+)\s+(\d+)\s*$/.exec(row))
    .filter((row) => row !== null);
  if (rows.length !== text.split(";").filter((row) => row.trim()).length || rows.length === 0) return null;
  return rows.map((row) => ({ name: row[1] ?? "", first: Number(row[2]), bits: Number(row[3]) }));
}

/** "0 even 1 12; 25 odd 13 12": the parity bit, even or odd, over so many bits from one on. */
function readParity(text: string): { bit: number; even: boolean; first: number; bits: number }[] | null {
  const wanted = text.split(";").filter((row) => row.trim());
  const rows = wanted
    .map((row) => /^\s*(\d+)\s+(even|odd)\s+(\d+)\s+(\d+)\s*$/.exec(row))
    .filter((row) => row !== null);
  if (rows.length !== wanted.length) return null;
  return rows.map((row) => ({
    bit: Number(row[1]),
    even: row[2] === "even",
    first: Number(row[3]),
    bits: Number(row[4]),
  }));
}

/** Formats of card numbers besides the one of 26 bits: longer ones, for phone and QR credentials too. */
export function Formats({ data }: { data: AccessSheet }) {
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  const [bits, setBits] = useState("37");
  const [fields, setFields] = useState("facility 1 16; number 17 19");
  const [parity, setParity] = useState("0 even 1 18; 36 odd 18 18");
  const change = useItem();
  const [read, checks] = [readFields(fields), readParity(parity)];
  const key = slug(name);
  return (
    <div className="pt-2">
      <h3 className="font-semibold">Card formats</h3>
      <p className="text-small">
        {data.formats.map((item) => item.word).join(", ")}. Reader and panel must share a length; the code in
        a phone opens the door only in the format that both know.
      </p>
      {open ? (
        <form
          aria-label="New card format"
          className="grid gap-2 py-2"
          onSubmit={(event) => {
            event.preventDefault();
            if (!read || !checks) return;
            const now = { key, name: name.trim(), bits: Number(bits), fields: read, parity: checks };
            change.mutate(
              { kind: "formats", item: key, was: null, now },
              { onSuccess: () => setOpen(false) },
            );
          }}
        >
          <div className="flex flex-wrap gap-3">
            <label className="grid gap-1 text-small">
              Name
              <input
                className="box"
                value={name}
                maxLength={80}
                onChange={(event) => setName(event.target.value)}
              />
            </label>
            <label className="grid gap-1 text-small">
              Bits
              <input
                className="box w-20 font-mono"
                inputMode="numeric"
                value={bits}
                onChange={(event) => setBits(event.target.value.replace(/\D/g, ""))}
              />
            </label>
          </div>
          <label className="grid gap-1 text-small">
            Fields: name, first bit (0 is sent first), how many; with ; between
            <input
              className="box font-mono"
              value={fields}
              onChange={(event) => setFields(event.target.value)}
            />
          </label>
          <label className="grid gap-1 text-small">
            Parity: bit, even or odd, from which bit on, over how many; with ; between
            <input
              className="box font-mono"
              value={parity}
              onChange={(event) => setParity(event.target.value)}
            />
          </label>
          {(!read || !checks) && (
            <p role="alert" className="text-small font-semibold text-red">
              “{read ? parity : fields}” cannot be read.
            </p>
          )}
          <span className="flex gap-2">
            <button
              type="submit"
              className="btn btn-main"
              disabled={!key || !Number(bits) || !read || !checks || change.isPending}
            >
              Add the format
            </button>
            <button type="button" className="btn" onClick={() => setOpen(false)}>
              Close
            </button>
          </span>
          {change.error && <Trouble error={change.error} />}
        </form>
      ) : (
        <button
          type="button"
          className="min-h-11 text-small underline underline-offset-4"
          onClick={() => setOpen(true)}
        >
          New card format
        </button>
      )}
    </div>
  );
}

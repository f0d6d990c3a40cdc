import { type UseMutationResult, useMutation, useQueryClient } from "@tanstack/react-query";
import { ask, client, type Refused, type Schemas } from "../api/client";
import { useSiteKey } from "../api/site";

type Row = Schemas["PretendRow"];
type Wanted = Schemas["PretendHandling"]["do"];
type Handle = UseMutationResult<unknown, Refused, { device: string; wanted: Wanted }>;

/** Boxes, plugs in or unplugs a device of the pretend site; what shows how it stands is fetched anew. */
export function useHandle(): Handle {
  const key = useSiteKey();
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ device, wanted }) =>
      ask(
        client.POST("/api/sites/{key}/pretend/{device}", {
          params: { path: { key, device } },
          body: { do: wanted },
        }),
      ),
    onSettled: () =>
      Promise.all(
        ["pretend", "bench"].map((stage) => queries.invalidateQueries({ queryKey: ["site", key, stage] })),
      ),
  });
}

/** After how many ms pretend devices are looked at again: their pages are used elsewhere. False where none is shown. */
export function pollsPretend(...rows: (Row | null | undefined)[]): number | false {
  if (!rows.some(Boolean)) return false;
  return rows.some((row) => row?.state === "busy") ? 1_000 : 5_000;
}

/** What can be done to a pretend device as it stands. */
export function Handles({ row, handle }: { row: Row; handle: Handle }) {
  return acts(row).map(([wanted, label]) => (
    <button
      key={wanted}
      type="button"
      className="mr-3 min-h-11 text-small font-semibold underline"
      onClick={() => handle.mutate({ device: row.device, wanted })}
    >
      {label}
      <span className="sr-only"> ({row.name})</span>
    </button>
  ));
}

function acts(row: Row): [Wanted, string][] {
  if (row.state === "boxed") return [["plug", "Plug it in"]];
  const back: [Wanted, string] = ["box", "Back into its box"];
  return row.state === "unplugged" ? [["plug", "Plug it in"], back] : [["unplug", "Unplug it"], back];
}

/** How a pretend device stands, in words. */
export function standing(row: Row): string {
  switch (row.state) {
    case "boxed":
      return "in its box";
    case "unplugged":
      return "unplugged";
    case "busy":
      return `booting, ${row.seconds} s left`;
    case "no-address":
      return "has no address: nothing hands one out";
    case "outside":
      return `set to ${row.address}, where nothing of this site finds it`;
    case "shadowed":
      return `not heard: another device answers at ${row.address}`;
    default:
      return `answers at ${row.address}`;
  }
}

import { useQuery } from "@tanstack/react-query";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSiteKey } from "../../api/site";

export type Card = Schemas["LinkCard"];

/** Links that were untied here: nobody asks for them again while their slip is still open. */
const untied = new Set<number>();

/** Everything about one link, fetched anew after every change of the site. */
export function useLink(id: number | null) {
  const key = useSiteKey();
  return useQuery({
    queryKey: ["site", key, "link", String(id)],
    queryFn: () =>
      ask(client.GET("/api/sites/{key}/links/{number}", { params: { path: { key, number: id ?? 0 } } })),
    enabled: () => id !== null && !untied.has(id),
  });
}

export function useChangeLink(id: number) {
  return useChange((key, body: Schemas["LinkChange"]) =>
    ask(client.PATCH("/api/sites/{key}/links/{number}", { params: { path: { key, number: id } }, body })),
  );
}

export function useAddLink() {
  return useChange((key, body: Schemas["NewLink"]) =>
    ask(client.POST("/api/sites/{key}/links", { params: { path: { key } }, body })),
  );
}

/** Untie a link; `left` is called before the rest is fetched anew. */
export function useRemoveLink(left: () => void) {
  return useChange(async (key, { id, revision }: { id: number; revision: number }) => {
    const part = await ask(
      client.DELETE("/api/sites/{key}/links/{number}", {
        params: { path: { key, number: id }, query: { revision } },
      }),
    );
    untied.add(id);
    left();
    return part;
  });
}

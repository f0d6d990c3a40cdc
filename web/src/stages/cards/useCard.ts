import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { showAnswer } from "../../api/answered";
import { asBytes, ask, client, type Refused, type Schemas } from "../../api/client";
import { invalidateSite, useSiteKey } from "../../api/site";

export type Card = Schemas["CardOut"];
export type Item = Card["rows"][number];
export type Phase = Schemas["CardsSheet"]["phase"];
export type Said = { item: string; body: Schemas["CardTick"]; file?: File };

/** The card of a device, or of the site ("site"). */
export function useCard(subject: string | undefined) {
  const key = useSiteKey();
  return useQuery({
    queryKey: ["site", key, "card", subject],
    queryFn: () =>
      ask(
        client.GET("/api/sites/{key}/cards/{subject}", { params: { path: { key, subject: subject ?? "" } } }),
      ),
    enabled: subject !== undefined,
  });
}

/** Ticks an item of a card; a photograph is sent first. */
export function useTick(subject: string) {
  const key = useSiteKey();
  const queries = useQueryClient();
  return useMutation<Card, Refused, Said>({
    mutationFn: async ({ item, body, file }) => {
      const params = { path: { key } };
      const photo = file
        ? (await ask(client.POST("/api/sites/{key}/log/photos", { params, ...asBytes(file) }))).name
        : "";
      return ask(
        client.PUT("/api/sites/{key}/cards/{subject}/{item}", {
          params: { path: { key, subject, item } },
          body: { ...body, photo },
        }),
      );
    },
    onSuccess: (card) => showAnswer(queries, ["site", key, "card", subject], card),
    onSettled: () => invalidateSite(queries, key),
  });
}

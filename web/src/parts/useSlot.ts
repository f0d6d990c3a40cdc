import { useQueryClient } from "@tanstack/react-query";
import { ask, client, type Schemas } from "../api/client";
import { invalidateSite, useSiteKey } from "../api/site";

export type Kept = Schemas["SecretRow"];
export type Shown = Schemas["Revealed"];

/** A password or code that Tutelar can make and that nobody has yet. */
export function isUnmade(secret: Kept): boolean {
  return secret.makeable && secret.version === 0;
}

/** Requests about one slot. A secret never goes through the query cache; it lives in the component that shows it. */
export function useSlot(secret: Kept) {
  const key = useSiteKey();
  const queries = useQueryClient();
  const path = { key, device: secret.device, slot: secret.slot };
  /** Fetch anew, once every tick that is on its way was stored: else the answer would take ticks back. */
  async function refresh() {
    while (queries.isMutating({ mutationKey: ["ticks", key] }) > 0)
      await new Promise((later) => setTimeout(later, 50));
    return invalidateSite(queries, key);
  }
  return {
    async reveal(reason = ""): Promise<Shown> {
      const shown = await ask(
        client.POST("/api/sites/{key}/devices/{device}/secrets/{slot}/reveal", {
          params: { path },
          body: { reason },
        }),
      );
      refresh();
      return shown;
    },
    async keep(text: string | null, reason = ""): Promise<void> {
      const body = { version: secret.version, secret: text, reason };
      await ask(
        client.PUT("/api/sites/{key}/devices/{device}/secrets/{slot}", { params: { path }, body }),
      ).finally(refresh);
    },
    /** Make every password and code of the device that is missing and that can be made. */
    async makeMissing(): Promise<void> {
      await ask(
        client.POST("/api/sites/{key}/secrets/make", {
          params: { path: { key } },
          body: { device: secret.device },
        }),
      ).finally(refresh);
    },
    async leave(reason: string, everywhere: boolean): Promise<void> {
      const body = { reason, everywhere };
      await ask(
        client.POST("/api/sites/{key}/devices/{device}/secrets/{slot}/open", { params: { path }, body }),
      ).finally(refresh);
    },
    check: (text: string) =>
      ask(
        client.POST("/api/sites/{key}/devices/{device}/secrets/{slot}/check", {
          params: { path },
          body: { secret: text },
        }),
      ),
  };
}

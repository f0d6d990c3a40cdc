import { useQuery } from "@tanstack/react-query";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSiteKey } from "../../api/site";
import { LargeDialog } from "../../parts/Dialog";
import { Loading, Trouble } from "../../parts/Feedback";
import { ProfileForm } from "../../parts/ProfileForm";

/** A model as this site knows it; other sites and the catalogue keep theirs. */
export function SiteModel({ model, close }: { model: string; close: () => void }) {
  const site = useSiteKey();
  const path = { key: site, model };
  const sheet = useQuery({
    queryKey: ["site", site, "model", model],
    queryFn: () => ask(client.GET("/api/sites/{key}/models/{model}", { params: { path } })),
  });
  const save = useChange((key, body: Schemas["ProfileChange"]) =>
    ask(client.PATCH("/api/sites/{key}/models/{model}", { params: { path: { key, model } }, body })),
  );
  return (
    <LargeDialog title={sheet.data ? `${sheet.data.label} at this site` : "Model"} close={close} wide>
      {sheet.isPending && <Loading what="the profile" />}
      {sheet.error && <Trouble error={sheet.error} retry={() => sheet.refetch()} />}
      {sheet.data && (
        <>
          <p className="text-ink-2">
            {sheet.data.devices} {sheet.data.devices === 1 ? "device is" : "devices are"} of this model. A
            change holds for this site alone.
          </p>
          <ProfileForm
            sheet={sheet.data}
            pending={save.isPending}
            error={save.error}
            save={(typed) => save.mutate({ revision: sheet.data.revision, typed }, { onSuccess: close })}
          />
        </>
      )}
    </LargeDialog>
  );
}

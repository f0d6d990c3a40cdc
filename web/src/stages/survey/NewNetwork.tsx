import { type FormEvent, useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useChange } from "../../api/site";
import { Trouble } from "../../parts/Feedback";

/** Another network for our devices, and taking one away that nothing stands in. */
export function NewNetwork({
  revision,
  networks,
  raw,
}: {
  revision: number;
  networks: Schemas["NetworkName"][];
  raw: Record<string, unknown>[];
}) {
  const [open, setOpen] = useState(networks.length === 0);
  const add = useChange((key, body: Schemas["NewNetwork"]) =>
    ask(client.POST("/api/sites/{key}/networks", { params: { path: { key } }, body })),
  );
  const remove = useChange((key, gone: string) =>
    ask(
      client.PATCH("/api/sites/{key}/survey", {
        params: { path: { key } },
        body: { revision, networks: raw.filter((network) => network.key !== gone) },
      }),
    ),
  );
  const unused = networks.filter((network) => network.devices === 0);
  function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = event.currentTarget;
    const typed = new FormData(form);
    const body = { revision, name: String(typed.get("name")), cidr: String(typed.get("cidr")) };
    add.mutate(body, {
      onSuccess: () => {
        form.reset();
        setOpen(false);
      },
    });
  }
  return (
    <section aria-label="Networks" className="flex flex-wrap gap-x-5 gap-y-3 py-4 md:pl-[132px]">
      {!open && (
        <button type="button" className="btn" onClick={() => setOpen(true)}>
          Add another network
        </button>
      )}
      {unused.map((network) => (
        <button
          key={network.key}
          type="button"
          className="btn"
          disabled={remove.isPending}
          onClick={() => remove.mutate(network.key)}
        >
          Remove {network.label}: nothing stands in it
        </button>
      ))}
      {open && (
        <form
          onSubmit={submit}
          className="flex flex-wrap items-end gap-3"
          aria-label="Another network"
          noValidate
        >
          <label className="grid w-52 gap-1 text-small">
            What people call the network
            <input name="name" className="box w-full" autoComplete="off" />
          </label>
          <label className="grid w-44 gap-1 text-small">
            Its range
            <input
              name="cidr"
              className="box w-full font-mono"
              placeholder="10.62.8.0/24"
              autoComplete="off"
            />
          </label>
          <button type="submit" className="btn btn-main" disabled={add.isPending}>
            Add it
          </button>
        </form>
      )}
      {(add.error ?? remove.error) && <Trouble error={(add.error ?? remove.error) as Error} />}
    </section>
  );
}

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useEffect, useState } from "react";
import { useSearchParams } from "react-router";
import { asBytes, ask, client, type Refused, type Schemas } from "./api/client";
import { LargeDialog } from "./parts/Dialog";
import { Loading, Trouble } from "./parts/Feedback";
import { useFilePicker } from "./parts/FilePicker";
import { hasAll, wordsOf } from "./parts/filter";
import { Mark } from "./parts/Mark";
import { ProfileForm } from "./parts/ProfileForm";
import { Held, useRight } from "./parts/Rights";
import { SearchBox } from "./parts/SearchBox";
import { slug } from "./parts/slug";
import { TopHead } from "./parts/TopHead";

const ORIGIN = { shipped: "shipped", changed: "shipped, changed here", own: "added here" } as const;

/** Every model Tutelar knows: open data, to be looked at, added to, changed, taken away and brought in. */
export function Catalogue() {
  const [search, setSearch] = useSearchParams();
  const [only, setOnly] = useState("");
  const leading = useRight("leading");
  const rows = useQuery({ queryKey: ["catalogue"], queryFn: () => ask(client.GET("/api/catalogue")) });
  const queries = useQueryClient();
  const bring = useMutation<Schemas["Said"], Refused, File>({
    mutationFn: (file) =>
      ask(
        client.POST("/api/catalogue", {
          ...asBytes(file),
        }),
      ),
    onSettled: () => queries.invalidateQueries({ queryKey: ["catalogue"] }),
  });
  const picker = useFilePicker("Catalogue file", bring.mutate);
  useEffect(() => {
    document.title = "Models · Tutelar";
  }, []);
  const open = search.get("model");
  const show = (model: string | null) => setSearch(model ? { model } : {}, { replace: true });
  const words = wordsOf(only);
  const found = rows.data?.filter((row) =>
    hasAll(words, `${row.label} ${row.family} ${row.key} ${row.factory}`),
  );
  return (
    <main className="relative mx-auto max-w-6xl px-4 py-6">
      <TopHead title="Models">
        <a className="btn text-ink no-underline" href="/api/catalogue/file" download>
          Export all (JSON)
        </a>
        {leading && (
          <button type="button" className="btn" onClick={picker.pick}>
            Import models
          </button>
        )}
        {picker.field}
      </TopHead>
      {bring.error && <Trouble error={bring.error} />}
      {bring.data && (
        <p role="status" className="mt-3 flex items-center gap-2">
          <Mark name="set" /> {bring.data.sentence}
        </p>
      )}
      <div className="mt-4 flex flex-wrap items-end gap-4">
        <SearchBox label="Show only" value={only} search={setOnly} />
        {leading && <NewModel show={show} />}
      </div>
      {rows.isPending && <Loading what="the models" />}
      {rows.error && <Trouble error={rows.error} retry={() => rows.refetch()} />}
      {found?.length === 0 && <p className="py-6 text-ink-2">No model fits “{only}”.</p>}
      {found && found.length > 0 && (
        <section className="mt-4 overflow-x-auto" aria-label="All models" tabIndex={0}>
          <table className="w-full min-w-[720px] text-list">
            <thead>
              <tr className="border-b-2 border-ink text-left text-small">
                {["Model", "Family", "From the factory", "Services", "Origin"].map((head) => (
                  <th key={head} scope="col" className="pr-3 font-semibold">
                    {head}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {found.map((row) => (
                <tr key={row.key} className="border-b border-hair">
                  <td className="pr-3">
                    <button
                      type="button"
                      className="min-h-11 font-semibold underline underline-offset-4"
                      onClick={() => show(row.key)}
                    >
                      {row.label}
                    </button>
                  </td>
                  <td className="pr-3">{row.family.replaceAll("-", " ")}</td>
                  <td className="pr-3 font-mono text-small">{row.factory}</td>
                  <td className="pr-3 text-small">{row.services}</td>
                  <td className="text-small text-ink-2">{ORIGIN[row.origin]}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      {open && <Profile model={open} close={() => show(null)} />}
    </main>
  );
}

function NewModel({ show }: { show: (model: string) => void }) {
  const [typed, setTyped] = useState("");
  const key = slug(typed);
  function submit(event: FormEvent) {
    event.preventDefault();
    if (key) show(key);
  }
  return (
    <form onSubmit={submit} className="flex flex-wrap items-end gap-2" aria-label="Add a model">
      <label className="grid gap-1 text-small">
        Another model: maker and name
        <input className="box w-64" value={typed} onChange={(event) => setTyped(event.target.value)} />
      </label>
      <button type="submit" className="btn" disabled={!key}>
        Write its profile
      </button>
    </form>
  );
}

function Profile({ model, close }: { model: string; close: () => void }) {
  const queries = useQueryClient();
  const path = { model };
  const sheet = useQuery({
    queryKey: ["catalogue", model],
    queryFn: () => ask(client.GET("/api/catalogue/{model}", { params: { path } })),
  });
  const settled = {
    onSettled: () => queries.invalidateQueries({ queryKey: ["catalogue"] }),
    onSuccess: close,
  };
  const save = useMutation<unknown, Refused, Schemas["ProfileChange"]>({
    mutationFn: (body) => ask(client.PATCH("/api/catalogue/{model}", { params: { path }, body })),
    ...settled,
  });
  const drop = useMutation<unknown, Refused, number>({
    mutationFn: (revision) =>
      ask(client.DELETE("/api/catalogue/{model}", { params: { path, query: { revision } } })),
    ...settled,
  });
  return (
    <LargeDialog title={sheet.data?.label ?? model} close={close} wide>
      {sheet.isPending && <Loading what="the profile" />}
      {sheet.error && <Trouble error={sheet.error} retry={() => sheet.refetch()} />}
      {sheet.data && (
        <>
          <p className="text-ink-2">
            Sites that use it keep the profile they have; a change here is for later ones.
          </p>
          <Held right="leading" to="change it">
            <ProfileForm
              sheet={sheet.data}
              pending={save.isPending}
              error={save.error ?? drop.error}
              save={(typed) => save.mutate({ revision: sheet.data.revision, typed })}
            >
              {sheet.data.revision > 0 && (
                <button type="button" className="btn" onClick={() => drop.mutate(sheet.data.revision)}>
                  {sheet.data.origin === "changed" ? "Back to the shipped profile" : "Remove it"}
                </button>
              )}
            </ProfileForm>
          </Held>
        </>
      )}
    </LargeDialog>
  );
}

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type RefObject, useEffect, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { ask, client, cookie, Refused, refusal, type Schemas } from "./api/client";
import { useSites } from "./api/site";
import { Account } from "./parts/Account";
import { Empty, Loading, Trouble } from "./parts/Feedback";
import { useFilePicker } from "./parts/FilePicker";
import { useKeys } from "./parts/keys";
import { Mark } from "./parts/Mark";
import { NextBar } from "./parts/NextBar";
import { Only, useRight } from "./parts/Rights";
import { slug } from "./parts/slug";
import { RemovedSites, RemoveSite } from "./Removing";

/** All sites, and bringing one in from a site file. */
export function Sites() {
  const sites = useSites();
  const newSite = useRef<HTMLInputElement>(null);
  const bring = useImport();
  useEffect(() => {
    document.title = "Sites · Tutelar";
  }, []);
  const { field, pick } = useFilePicker("Site file", bring.choose);
  const leading = useRight("leading");
  useKeys({ i: leading && pick });
  return (
    <div className="flex h-dvh flex-col">
      <main className="relative min-h-0 flex-1 overflow-auto">
        <div className="mx-auto max-w-5xl px-4 py-6">
          <header className="flex flex-wrap items-end justify-between gap-4">
            <div>
              <p className="text-cell font-semibold text-kelp">Tutelar</p>
              <h1 className="text-title font-bold">Sites</h1>
            </div>
            <span className="flex flex-wrap gap-2">
              <Link to="/log" className="btn text-ink no-underline">
                Find in every site
              </Link>
              <Link to="/models" className="btn text-ink no-underline">
                Models
              </Link>
              <Link to="/cards" className="btn text-ink no-underline">
                Job cards
              </Link>
              {leading && (
                <button type="button" className="btn" onClick={pick}>
                  <kbd className="key">I</kbd> Import a site file
                </button>
              )}
              <Account />
            </span>
            {field}
          </header>
          {bring.error && (
            <div className="mt-4">
              <Trouble error={bring.error} />
              {bring.suggested && (
                <button type="button" className="btn mt-3" onClick={() => bring.again(bring.suggested ?? "")}>
                  Import it as <span className="font-mono">{bring.suggested}</span>
                </button>
              )}
            </div>
          )}
          {sites.isPending && <Loading what="the sites" />}
          {sites.isError && <Trouble error={sites.error} retry={() => sites.refetch()} />}
          {sites.data?.length === 0 && (
            <Empty title="No site yet">
              {leading
                ? "A site file holds the networks, devices and links of one site."
                : "Nobody gave you a site yet: ask an owner or a lead."}
            </Empty>
          )}
          {sites.data && sites.data.length > 0 && <SiteTable sites={sites.data} />}
          {!sites.isPending && (
            <Only right="leading" to="begin, import or remove a site">
              <NewSite input={newSite} />
              <RemovedSites />
            </Only>
          )}
        </div>
      </main>
      <SitesNext sites={sites} start={() => newSite.current?.focus()} />
    </div>
  );
}

function SitesNext({ sites, start }: { sites: ReturnType<typeof useSites>; start: () => void }) {
  const navigate = useNavigate();
  const leading = useRight("leading");
  const first = sites.data?.[0];
  if (sites.isPending) return <NextBar busy sentence="The sites are being fetched." />;
  if (sites.isError && !first)
    return (
      <NextBar
        sentence="The sites could not be fetched."
        go={{ label: "Try again", key: " ", run: () => sites.refetch() }}
      />
    );
  if (first)
    return (
      <NextBar
        sentence={`${first.name}: ${first.next}`}
        go={{ label: "Open the site", key: " ", run: () => navigate(`/sites/${first.key}`) }}
      />
    );
  return leading ? (
    <NextBar
      sentence="Start your first site, or import a site file."
      go={{ label: "Start a site", key: " ", run: start }}
    />
  ) : (
    <NextBar sentence="Ask for a site to work at." />
  );
}

function SiteTable({ sites }: { sites: Schemas["SiteRow"][] }) {
  const [removing, setRemoving] = useState<Schemas["SiteRow"] | null>(null);
  const leading = useRight("leading");
  return (
    <>
      {removing && <RemoveSite site={removing} close={() => setRemoving(null)} />}
      <table className="mt-6 w-full">
        <thead>
          <tr className="border-b-2 border-ink text-left text-small">
            <th scope="col" className="py-2 font-semibold">
              Site
            </th>
            <th scope="col" className="font-semibold">
              Devices proven
            </th>
            <th scope="col" className="font-semibold max-md:hidden">
              Next
            </th>
            <th scope="col">
              <span className="sr-only">Removing</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {sites.map((site) => (
            <tr key={site.key} className="border-b border-hair">
              <td className="py-1">
                <Link
                  to={`/sites/${site.key}`}
                  className="flex min-h-12 flex-col justify-center font-semibold text-ink no-underline hover:underline"
                >
                  {site.name}
                  <span className="font-mono text-note font-normal text-ink-2">{site.key}</span>
                </Link>
              </td>
              <td>
                <span className="flex items-center gap-2">
                  {site.broken ? (
                    <Mark name="broken" word="broken" />
                  ) : (
                    <>
                      <Mark name={site.devices > 0 && site.proven === site.devices ? "proven" : "planned"} />
                      <span>
                        <b>{site.proven}</b> of {site.devices}
                      </span>
                    </>
                  )}
                </span>
              </td>
              <td className="text-list max-md:hidden">{site.next}</td>
              <td className="text-right">
                {leading && (
                  <button
                    type="button"
                    className="min-h-11 px-2 text-small underline"
                    aria-label={`Remove ${site.name}`}
                    onClick={() => setRemoving(site)}
                  >
                    Remove
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

/** Bringing in a file: chosen once, kept for a second try under another key. */
function useImport() {
  const [error, setError] = useState<Error | null>(null);
  const [suggested, setSuggested] = useState<string | null>(null);
  const file = useRef<string>("");
  const navigate = useNavigate();
  const queries = useQueryClient();

  async function send(key: string | null) {
    const query = key ? `?key=${encodeURIComponent(key)}` : "";
    try {
      const answer = await fetch(`/api/sites${query}`, {
        method: "POST",
        body: file.current,
        headers: { "Content-Type": "application/json", "X-CSRFToken": cookie("csrftoken") },
      });
      const body = await answer.json();
      if (!answer.ok) throw refusal(answer.status, body);
      await queries.invalidateQueries({ queryKey: ["sites"] });
      navigate(`/sites/${body.key}`);
    } catch (problem) {
      setError(problem as Error);
      setSuggested(problem instanceof Refused && problem.status === 409 ? nextKey(file.current, key) : null);
    }
  }
  async function choose(chosen: File) {
    setError(null);
    file.current = await chosen.text();
    await send(null);
  }
  return { error, suggested, choose, again: send };
}

/** The file's own key with the next number behind it. */
function nextKey(text: string, tried: string | null): string {
  const key = tried ?? String(JSON.parse(text)?.site?.key ?? "site");
  const [, stem = key, number = "1"] = /^(.*?)(?:-(\d+))?$/.exec(key) ?? [];
  return `${stem}-${Number(number) + 1}`;
}

/** Start a site with nothing but its name; the survey asks for the rest. */
function NewSite({ input }: { input: RefObject<HTMLInputElement | null> }) {
  const [name, setName] = useState("");
  const navigate = useNavigate();
  const queries = useQueryClient();
  const key = slug(name);
  const start = useMutation<{ key: string }, Refused>({
    mutationFn: () =>
      ask(
        client.POST("/api/sites", {
          body: { format: "tutelar-site", version: 1, site: { key, name: name.trim() } } as never,
        }),
      ),
    onSuccess: (made) => {
      queries.invalidateQueries({ queryKey: ["sites"] });
      navigate(`/sites/${made.key}/survey`);
    },
  });
  return (
    <form
      aria-label="Start a new site"
      className="mt-6 flex flex-wrap items-end gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (key) start.mutate();
      }}
    >
      <label className="grid w-72 gap-1 text-small">
        A new site: what people call it
        <input
          ref={input}
          className="box w-full"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      <button type="submit" className="btn" disabled={!key || start.isPending}>
        Start with the survey
      </button>
      {start.error && <Trouble error={start.error} />}
    </form>
  );
}

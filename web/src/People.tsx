import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useEffect, useState } from "react";
import { showAnswer } from "./api/answered";
import { ask, client, type Refused, type Schemas } from "./api/client";
import { Choice } from "./parts/Choice";
import { dayOf } from "./parts/dates";
import { Loading, Trouble } from "./parts/Feedback";
import { hasAll, wordsOf } from "./parts/filter";
import { LineField } from "./parts/LineField";
import { State } from "./parts/Mark";
import { OnceShown } from "./parts/OnceShown";
import { SearchBox } from "./parts/SearchBox";
import { TopHead } from "./parts/TopHead";

type Sheet = Schemas["People"];
type Person = Schemas["PersonRow"];
type Standing = { role: string; every_site: boolean; sites: string[] };
type Act = { run: () => Promise<Sheet> };
type OfPerson = { person: Person; sheet: Sheet; act: (act: Act) => void; busy: boolean };

/** Who works here, by which role, at which sites; invitations. */
export function People() {
  const queries = useQueryClient();
  const [only, setOnly] = useState("");
  const sheet = useQuery({ queryKey: ["people"], queryFn: () => ask(client.GET("/api/people")) });
  const show = (fresh: Sheet) => showAnswer(queries, ["people"], fresh);
  const act = useMutation<Sheet, Refused, Act>({ mutationFn: ({ run }) => run(), onSuccess: show });
  useEffect(() => {
    document.title = "People · Tutelar";
  }, []);
  const data = sheet.data;
  const words = wordsOf(only);
  const found = data?.people.filter((person) => hasAll(words, `${person.name} ${person.role}`)) ?? [];
  return (
    <main className="relative mx-auto max-w-6xl px-4 py-6">
      <TopHead title="People" />
      {act.error && <Trouble error={act.error} />}
      {sheet.isPending && <Loading what="the people" />}
      {sheet.error && <Trouble error={sheet.error} retry={() => sheet.refetch()} />}
      {data && (
        <div className="mt-4 grid gap-x-10 gap-y-8 lg:grid-cols-[minmax(0,1fr)_22rem]">
          <div className="min-w-0">
            {data.people.length > 8 && <SearchBox label="Show only" value={only} search={setOnly} />}
            <ul aria-label="Accounts" className="border-t-2 border-ink">
              {found.map((person) => (
                <PersonItem
                  key={person.name}
                  person={person}
                  sheet={data}
                  act={act.mutate}
                  busy={act.isPending}
                />
              ))}
            </ul>
            {found.length === 0 && <p className="py-6 text-ink-2">Nobody fits “{only}”.</p>}
            <Waiting sheet={data} act={act.mutate} busy={act.isPending} />
          </div>
          <div className="grid gap-8 self-start">
            <Invite sheet={data} made={() => sheet.refetch()} />
            <section aria-labelledby="roles" className="border-t border-hair pt-3">
              <h2 id="roles" className="pb-2 font-semibold">
                What each role may do
              </h2>
              <dl className="grid gap-2 text-small">
                {data.roles.map((role) => (
                  <div key={role.role}>
                    <dt className="font-semibold">{role.word}</dt>
                    <dd className="text-ink-2">{role.may}</dd>
                  </div>
                ))}
              </dl>
            </section>
          </div>
        </div>
      )}
    </main>
  );
}

function where(standing: Standing, sheet: Sheet): string {
  if (standing.role === "owner" || standing.role === "support") return "every site";
  if (standing.role === "trainee") return "practice sites";
  if (standing.every_site) return "every site";
  if (standing.sites.length === 0) return "no site yet";
  const name = sheet.sites.find((site) => site.key === standing.sites[0])?.name ?? standing.sites[0];
  return standing.sites.length === 1 ? `${name}` : `${name} and ${standing.sites.length - 1} more`;
}

function PersonItem({ person, sheet, act, busy }: OfPerson) {
  const [open, setOpen] = useState(false);
  const role = sheet.roles.find((item) => item.role === person.role)?.word ?? "No role";
  return (
    <li className="border-b border-hair py-2">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <span className="min-w-0 flex-1 basis-56">
          <span className="font-semibold [overflow-wrap:anywhere]">{person.name}</span>
          {person.you && <span className="text-ink-2"> (you)</span>}
          <span className="block text-small text-ink-2">
            {role}, {where(person, sheet)}.{" "}
            {person.last_login ? `Signed in last on ${dayOf(person.last_login)}` : "Never signed in"}
            {person.sessions > 0 && `, ${person.sessions} open session${person.sessions === 1 ? "" : "s"}`}.
            {person.second && " Second factor on."}
          </span>
        </span>
        {!person.active && <State name="left">shut</State>}
        <button
          type="button"
          className="min-h-11 text-small whitespace-nowrap underline underline-offset-4"
          aria-expanded={open}
          aria-label={`${open ? "Close" : "Change"}: ${person.name}`}
          onClick={() => setOpen(!open)}
        >
          {open ? "Close" : "Change"}
        </button>
      </div>
      {open && <ChangePerson person={person} sheet={sheet} act={act} busy={busy} />}
    </li>
  );
}

function ChangePerson({ person, sheet, act, busy }: OfPerson) {
  const [standing, setStanding] = useState<Standing>({
    role: person.role,
    every_site: person.every_site,
    sites: person.sites,
  });
  const path = { name: person.name };
  const keep = (active: boolean) =>
    act({
      run: () =>
        ask(
          client.PUT("/api/people/{name}", {
            params: { path },
            body: { ...(standing as Schemas["Changing"]), active },
          }),
        ),
    });
  return (
    <form
      className="grid gap-3 border-l-4 border-brass-fill py-2 pl-4"
      aria-label={`Change ${person.name}`}
      onSubmit={(event) => {
        event.preventDefault();
        keep(person.active);
      }}
    >
      <StandingFields standing={standing} set={setStanding} sheet={sheet} />
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1">
        <button type="submit" className="btn btn-main" disabled={busy || !standing.role}>
          Save
        </button>
        <NewPasswordLink name={person.name} />
        {person.sessions > 0 && (
          <Small
            busy={busy}
            press={() =>
              act({ run: () => ask(client.DELETE("/api/people/{name}/sessions", { params: { path } })) })
            }
          >
            Sign out everywhere
          </Small>
        )}
        {person.second && (
          <Small
            busy={busy}
            press={() =>
              act({ run: () => ask(client.DELETE("/api/people/{name}/second", { params: { path } })) })
            }
          >
            Lost second factor: switch it off
          </Small>
        )}
        <Small busy={busy} press={() => keep(!person.active)}>
          {person.active ? "Shut the account" : "Open the account again"}
        </Small>
      </div>
    </form>
  );
}

function Small({ busy, press, children }: { busy: boolean; press: () => void; children: ReactNode }) {
  return (
    <button
      type="button"
      className="min-h-11 text-small underline underline-offset-4"
      disabled={busy}
      onClick={press}
    >
      {children}
    </button>
  );
}

/** Role, and the sites that go with it. */
function StandingFields({
  standing,
  set,
  sheet,
}: {
  standing: Standing;
  set: (standing: Standing) => void;
  sheet: Sheet;
}) {
  const [only, setOnly] = useState("");
  const roles = sheet.roles.map((role) => ({ value: role.role, word: role.word }));
  const chosen = standing.role === "lead" || standing.role === "technician";
  const shown = sheet.sites.filter((site) => hasAll(wordsOf(only), `${site.name} ${site.key}`));
  return (
    <>
      <Choice
        label="role"
        options={standing.role ? roles : [{ value: "", word: "none yet" }, ...roles]}
        value={standing.role}
        set={(role) => set({ ...standing, role })}
        box="w-full min-w-0"
      />
      {chosen && (
        <label className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            className="size-5 accent-kelp"
            checked={standing.every_site}
            onChange={(event) => set({ ...standing, every_site: event.target.checked })}
          />
          every site, those to come too
        </label>
      )}
      {chosen && !standing.every_site && (
        <fieldset>
          <legend className="text-cell">sites</legend>
          {sheet.sites.length > 8 && <SearchBox label="Show only sites" value={only} search={setOnly} />}
          <div className="max-h-56 overflow-auto border border-hair px-2">
            {shown.map((site) => (
              <label key={site.key} className="flex min-h-11 items-center gap-2">
                <input
                  type="checkbox"
                  className="size-5 shrink-0 accent-kelp"
                  checked={standing.sites.includes(site.key)}
                  onChange={(event) =>
                    set({
                      ...standing,
                      sites: event.target.checked
                        ? [...standing.sites, site.key]
                        : standing.sites.filter((key) => key !== site.key),
                    })
                  }
                />
                <span className="min-w-0 truncate" title={site.name}>
                  {site.name}
                </span>
              </label>
            ))}
            {shown.length === 0 && <p className="py-3 text-small text-ink-2">No site.</p>}
          </div>
        </fieldset>
      )}
    </>
  );
}

function Invite({ sheet, made }: { sheet: Sheet; made: () => void }) {
  const [standing, setStanding] = useState<Standing>({ role: "technician", every_site: false, sites: [] });
  const [note, setNote] = useState("");
  const [days, setDays] = useState("7");
  const invite = useMutation<Schemas["Invited"], Refused>({
    mutationFn: () =>
      ask(
        client.POST("/api/people/invitations", {
          body: { ...(standing as Schemas["Inviting"]), note, days: Number(days) },
        }),
      ),
    onSuccess: made,
  });
  return (
    <form
      aria-labelledby="invite"
      className="grid gap-3 border border-hair border-t-[3px] border-t-ink bg-sheet p-5"
      onSubmit={(event) => {
        event.preventDefault();
        invite.mutate();
      }}
    >
      <h2 id="invite" className="text-lead font-semibold">
        Invite somebody
      </h2>
      <LineField label="who it is for (seen here only)" value={note} set={setNote} most={150} />
      <StandingFields standing={standing} set={setStanding} sheet={sheet} />
      <Choice
        label="the link opens for"
        options={[
          { value: "1", word: "1 day" },
          { value: "7", word: "7 days" },
          { value: "30", word: "30 days" },
        ]}
        value={days}
        set={setDays}
        box="w-full min-w-0"
      />
      {invite.error && <Trouble error={invite.error} />}
      <button type="submit" className="btn btn-main justify-self-start" disabled={invite.isPending}>
        Make the link
      </button>
      {invite.data && <OnceShown link={invite.data.link} says={once(invite.data)} />}
    </form>
  );
}

function NewPasswordLink({ name }: { name: string }) {
  const queries = useQueryClient();
  const make = useMutation<Schemas["Invited"], Refused>({
    mutationFn: () => ask(client.POST("/api/people/{name}/password", { params: { path: { name } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["people"] }),
  });
  return (
    <>
      <Small busy={make.isPending} press={() => make.mutate()}>
        Link for a new password
      </Small>
      {make.error && <Trouble error={make.error} />}
      {make.data && <OnceShown link={make.data.link} says={once(make.data)} />}
    </>
  );
}

const once = (link: Schemas["Invited"]) =>
  `Send it by a way that only they read. It is shown this once, opens once, and ends on ${dayOf(link.until)}.`;

function Waiting({ sheet, act, busy }: { sheet: Sheet; act: (act: Act) => void; busy: boolean }) {
  if (sheet.invitations.length === 0) return null;
  return (
    <section aria-labelledby="waiting" className="pt-8">
      <h2 id="waiting" className="pb-1 font-semibold">
        Links that nobody used yet
      </h2>
      <ul className="border-t border-hair">
        {sheet.invitations.map((item) => (
          <li key={item.number} className="flex flex-wrap items-center gap-x-4 border-b border-hair py-1">
            <span className="min-w-0 flex-1 basis-56">
              {item.user ? `A new password for ${item.user}` : item.note || "Somebody"}
              <span className="block text-small text-ink-2">
                {!item.user && `${item.role}, ${where(item, sheet)}, `}by {item.made_by},{" "}
                {item.ended ? "ended on" : "until"} {dayOf(item.until)}
              </span>
            </span>
            {item.ended && <State name="left">ended</State>}
            <Small
              busy={busy}
              press={() =>
                act({
                  run: () =>
                    ask(
                      client.DELETE("/api/people/invitations/{number}", {
                        params: { path: { number: item.number } },
                      }),
                    ),
                })
              }
            >
              Withdraw
            </Small>
          </li>
        ))}
      </ul>
    </section>
  );
}

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { showAnswer } from "../../api/answered";
import { ask, client, type Refused, type Schemas } from "../../api/client";
import { useSiteKey } from "../../api/site";
import { Choice } from "../../parts/Choice";
import { dayOf } from "../../parts/dates";
import { Loading, Trouble } from "../../parts/Feedback";
import { LineField } from "../../parts/LineField";
import { OnceShown } from "../../parts/OnceShown";
import { useRight } from "../../parts/Rights";

type Rows = Schemas["GuestRow"][];

/** One paper by a link, for somebody without an account; folded until it is wanted. */
export function Guests() {
  const [open, setOpen] = useState(false);
  if (!useRight("decide")) return null;
  return (
    <details
      className="mt-3 border-t border-hair"
      onToggle={(event) => setOpen(event.currentTarget.open)}
      open={open}
    >
      <summary className="min-h-11 cursor-pointer py-2.5 font-semibold">Send one paper by a link</summary>
      {open && <Links />}
    </details>
  );
}

function Links() {
  const site = useSiteKey();
  const queries = useQueryClient();
  const queryKey = ["site", site, "guests"];
  const path = { key: site };
  const links = useQuery({
    queryKey,
    queryFn: () => ask(client.GET("/api/sites/{key}/guests", { params: { path } })),
  });
  const files = useQuery({
    queryKey: ["site", site, "files"],
    queryFn: () => ask(client.GET("/api/sites/{key}/files", { params: { path } })),
  });
  const withdraw = useMutation<Rows, Refused, number>({
    mutationFn: (number) =>
      ask(client.DELETE("/api/sites/{key}/guests/{number}", { params: { path: { key: site, number } } })),
    onSuccess: (rows) => showAnswer(queries, queryKey, rows),
  });
  const trouble = links.error ?? files.error ?? withdraw.error;
  return (
    <div className="grid gap-3 pb-3 text-small">
      {trouble && <Trouble error={trouble} />}
      {(links.isPending || files.isPending) && <Loading what="the links" />}
      {files.data && <MakeLink files={files.data} made={() => links.refetch()} />}
      {links.data && links.data.length > 0 && (
        <ul aria-label="Links that were made" className="max-h-72 overflow-auto border-t border-hair">
          {links.data.map((link) => (
            <li key={link.number} className="flex items-center gap-3 border-b border-hair py-1">
              <span className="min-w-0 flex-1">
                {link.title} ({link.ending.toUpperCase()}) for {link.for_whom}
                <span className="block text-ink-2">
                  {link.ended ? "Ended" : `Until ${dayOf(link.until)}`},{" "}
                  {link.opened === 0 ? "not opened yet" : `opened ${link.opened} times`}, by {link.made_by}
                </span>
              </span>
              {!link.ended && (
                <button
                  type="button"
                  className="min-h-11 underline underline-offset-4"
                  disabled={withdraw.isPending}
                  aria-label={`Withdraw the link for ${link.for_whom}`}
                  onClick={() => withdraw.mutate(link.number)}
                >
                  Withdraw
                </button>
              )}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

function MakeLink({ files, made }: { files: Schemas["FileRow"][]; made: () => void }) {
  const site = useSiteKey();
  const [paper, setPaper] = useState(files.some((file) => file.name === "request") ? "request" : "");
  const [wanted, setWanted] = useState("pdf");
  const [whom, setWhom] = useState("");
  const [days, setDays] = useState("14");
  const endings = files.find((file) => file.name === paper)?.endings ?? [];
  const ending = endings.includes(wanted) ? wanted : (endings[0] ?? "");
  const make = useMutation<Schemas["GuestMade"], Refused>({
    mutationFn: () =>
      ask(
        client.POST("/api/sites/{key}/guests", {
          params: { path: { key: site } },
          body: { paper, ending, for_whom: whom, days: Number(days) },
        }),
      ),
    onSuccess: made,
  });
  return (
    <form
      className="grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        make.mutate();
      }}
    >
      <p className="text-ink-2">Whoever has the link reads this paper as it stands then, and nothing else.</p>
      <Choice
        label="paper"
        none="which"
        options={files.map((file) => ({ value: file.name, word: file.title }))}
        value={paper}
        set={setPaper}
        box="w-full min-w-0"
      />
      <div className="flex gap-3">
        <Choice
          label="as"
          options={endings.map((one) => ({ value: one, word: one.toUpperCase() }))}
          value={ending}
          set={setWanted}
          look="flex-1"
        />
        <Choice
          label="until"
          options={[
            { value: "3", word: "in 3 days" },
            { value: "14", word: "in 14 days" },
            { value: "60", word: "in 60 days" },
          ]}
          value={days}
          set={setDays}
          look="flex-1"
        />
      </div>
      <LineField label="who opens it" value={whom} set={setWhom} most={150} />
      {make.error && <Trouble error={make.error} />}
      <button
        type="submit"
        className="btn justify-self-start"
        disabled={make.isPending || !paper || !whom.trim()}
      >
        Make the link
      </button>
      {make.data && (
        <OnceShown
          link={make.data.link}
          says={`Send it to them. It is shown this once, and ends on ${dayOf(make.data.until)}.`}
        />
      )}
    </form>
  );
}

import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSheet, useSiteKey } from "../../api/site";
import { Choice } from "../../parts/Choice";
import { momentOf } from "../../parts/dates";
import { Empty, Trouble } from "../../parts/Feedback";
import { LineField } from "../../parts/LineField";
import { Mark, State } from "../../parts/Mark";
import { NextBar } from "../../parts/NextBar";
import { Page } from "../../parts/Page";
import { Only, useRight } from "../../parts/Rights";

type Sheet = Schemas["LeavingSheet"];
type End = Sheet["ends"][number];
type Act =
  | { do: "leave"; code: string; subject: string; reason: string }
  | { do: "note"; body: Schemas["Noting"] }
  | { do: "done"; code: string; subject: string }
  | { do: "sign"; forWhom: string }
  | { do: "reopen" };

function useActs() {
  return useChange<Act, Sheet>((key, act) => {
    if (act.do === "leave") {
      const path = { key, code: act.code, subject: act.subject };
      return ask(
        client.PUT("/api/sites/{key}/leaving/{code}/{subject}", {
          params: { path },
          body: { reason: act.reason },
        }),
      );
    }
    if (act.do === "done") {
      const path = { key, code: act.code, subject: act.subject };
      return ask(client.DELETE("/api/sites/{key}/leaving/{code}/{subject}", { params: { path } }));
    }
    const params = { path: { key } };
    if (act.do === "note") return ask(client.POST("/api/sites/{key}/leaving", { params, body: act.body }));
    if (act.do === "sign")
      return ask(client.PUT("/api/sites/{key}/sign-off", { params, body: { for_whom: act.forWhom } }));
    return ask(client.DELETE("/api/sites/{key}/sign-off", { params }));
  }, "leaving");
}

/** The last hour: what is open in walking order, and the signature. */
export function Leaving() {
  const key = useSiteKey();
  const sheet = useSheet("leaving");
  const acts = useActs();
  const navigate = useNavigate();
  const data = sheet.data;
  const first = data?.ends.find((end) => end.blocks && end.left_open === null);
  return (
    <>
      <Page title="Leaving the site" fetched={sheet}>
        {(found) =>
          found.empty ? (
            <Empty title="There is nothing to leave yet">The kit holds no device.</Empty>
          ) : (
            <div className="grid gap-x-10 gap-y-6 pt-2 xl:grid-cols-[minmax(0,1fr)_24rem]">
              <div className="min-w-0">
                {acts.error && <Trouble error={acts.error} />}
                {found.cards > 0 && (
                  <p className="pb-2 text-small">
                    <Link
                      className="inline-flex min-h-11 items-center"
                      to={`/sites/${key}/cards?part=leaving`}
                    >
                      Job cards: {found.cards} items before leaving are not ticked
                    </Link>{" "}
                    <span className="text-ink-2">
                      They hold nothing; what is left for later on them does.
                    </span>
                  </p>
                )}
                <Ends ends={found.ends} act={acts.mutate} busy={acts.isPending} />
              </div>
              <div className="grid content-start gap-6">
                <Signature
                  key={found.signed?.at ?? "open"}
                  sheet={found}
                  act={acts.mutate}
                  busy={acts.isPending}
                />
                <Noting key={found.ends.length} sheet={found} act={acts.mutate} busy={acts.isPending} />
              </div>
            </div>
          )
        }
      </Page>
      {data && !data.empty && (
        <NextBar
          sentence={
            first
              ? first.message
              : data.signed
                ? data.signed.changed
                  ? "The site was changed since it was signed off."
                  : `Signed off for ${data.signed.for_whom}.`
                : "Nothing holds the signature."
          }
          detail={
            first
              ? `${first.fix} ${data.holding > 1 ? `${data.holding} are open.` : "It is the last one."}`
              : undefined
          }
          go={
            first
              ? { label: "Go there", key: " ", run: () => navigate(`/sites/${key}/${first.goes}`) }
              : undefined
          }
        />
      )}
    </>
  );
}

function Ends({ ends, act, busy }: { ends: End[]; act: (act: Act) => void; busy: boolean }) {
  if (ends.length === 0)
    return (
      <p className="py-3">
        <State name="proven">Nothing is open.</State>
      </p>
    );
  const placeOf = (end: End) => end.place ?? (end.subject === "site" ? "The whole site" : "No place yet");
  return [...new Set(ends.map(placeOf))].map((place) => (
    <Place
      key={place}
      name={place}
      ends={ends.filter((end) => placeOf(end) === place)}
      act={act}
      busy={busy}
    />
  ));
}

const FIRST = 8; // of a place; more would bury the places that follow

function Place({
  name,
  ends,
  act,
  busy,
}: {
  name: string;
  ends: End[];
  act: (act: Act) => void;
  busy: boolean;
}) {
  const [whole, setWhole] = useState(false);
  const shown = whole ? ends : ends.slice(0, FIRST);
  return (
    <section aria-label={name} className="pb-4">
      <h2 className="font-semibold text-ink-2">
        {name} <span className="font-normal">{ends.length}</span>
      </h2>
      <ul>
        {shown.map((end) => (
          <EndLine key={`${end.code} ${end.subject} ${end.left_open}`} end={end} act={act} busy={busy} />
        ))}
      </ul>
      {shown.length < ends.length && (
        <button
          type="button"
          className="min-h-11 text-small underline underline-offset-4"
          onClick={() => setWhole(true)}
        >
          Show all {ends.length} of {name}
        </button>
      )}
    </section>
  );
}

function EndLine({ end, act, busy }: { end: End; act: (act: Act) => void; busy: boolean }) {
  const site = useSiteKey();
  const [leaving, setLeaving] = useState(false);
  const mayDecide = useRight("decide");
  const [reason, setReason] = useState("");
  const left = end.left_open !== null;
  const leave = (why: string) => act({ do: "leave", code: end.code, subject: end.subject, reason: why });
  return (
    <li className="grid grid-cols-[1.25rem_minmax(0,1fr)] gap-x-3 border-t border-hair py-2 sm:grid-cols-[1.25rem_minmax(0,1fr)_auto]">
      <span className="pt-1">
        <Mark
          name={left ? "left" : end.blocks ? "turn" : "unread"}
          word={left ? "left open" : end.blocks ? "holds the signature" : "to know"}
        />
      </span>
      <span className="min-w-0 leading-5">
        <span className="font-semibold [overflow-wrap:anywhere]">{end.message}</span>
        <span className="block text-small text-ink-2">
          {left ? `Left open by ${end.left_by}: ${end.left_open}.` : end.fix}
          {!left && end.whose !== "you" && ` Waits for ${end.whose}.`}
        </span>
        {leaving && (
          <form
            className="flex flex-wrap items-end gap-3 pt-2"
            onSubmit={(event) => {
              event.preventDefault();
              leave(reason);
            }}
          >
            <LineField label="why it stays open" value={reason} set={setReason} look="flex-1 basis-56" />
            <button type="submit" className="btn" disabled={busy || !reason.trim()}>
              Leave it open
            </button>
          </form>
        )}
      </span>
      <span className="flex items-start gap-4 text-small max-sm:col-start-2">
        <Link
          className="inline-flex min-h-11 items-center whitespace-nowrap"
          to={`/sites/${site}/${end.goes}`}
          aria-label={`Go there: ${end.message}`}
        >
          Go there
        </Link>
        {end.by_tick && (
          <button
            type="button"
            className="min-h-11 font-semibold whitespace-nowrap underline underline-offset-4"
            disabled={busy}
            aria-label={`Done: ${end.message}`}
            onClick={() => act({ do: "done", code: end.code, subject: end.subject })}
          >
            Done
          </button>
        )}
        {end.blocks && mayDecide && (
          <button
            type="button"
            className="min-h-11 whitespace-nowrap underline underline-offset-4"
            disabled={busy}
            aria-label={`${left ? "No longer left open" : "Leave open"}: ${end.message}`}
            onClick={() => (left ? leave("") : setLeaving(!leaving))}
          >
            {left ? "Not any more" : "Leave open"}
          </button>
        )}
      </span>
    </li>
  );
}

function Signature({ sheet, act, busy }: { sheet: Sheet; act: (act: Act) => void; busy: boolean }) {
  const [forWhom, setForWhom] = useState("");
  const signed = sheet.signed;
  return (
    <section
      aria-labelledby="sign"
      className="self-start border border-hair border-t-[3px] border-t-ink bg-sheet p-5"
    >
      <h2 id="sign" className="pb-2 text-lead font-semibold">
        Sign-off
      </h2>
      {signed ? (
        <>
          <p>
            <State name={signed.changed ? "off" : "set"}>
              {signed.changed ? "signed, and changed since" : "signed"}
            </State>
          </p>
          <p className="py-2 text-small">
            By {signed.by} for {signed.for_whom}, {momentOf(signed.at)}.{" "}
            {signed.open.length > 0 && `${signed.open.length} left open.`}
          </p>
          <button type="button" className="btn" disabled={busy} onClick={() => act({ do: "reopen" })}>
            Take the signature back
          </button>
        </>
      ) : (
        <Only right="decide" to="sign it off">
          <form
            onSubmit={(event) => {
              event.preventDefault();
              act({ do: "sign", forWhom });
            }}
          >
            <p className="pb-3 text-small text-ink-2">
              {sheet.holding > 0
                ? `${sheet.holding} open ends hold it. Close them, or leave each open with a reason and your name.`
                : "Nothing holds it."}
            </p>
            <LineField label="for whom it is signed" value={forWhom} set={setForWhom} most={200} />
            <button
              type="submit"
              className="btn btn-main mt-3"
              disabled={busy || sheet.holding > 0 || !forWhom.trim()}
            >
              Sign it off
            </button>
          </form>
        </Only>
      )}
    </section>
  );
}

/** What is open and nothing else tells of: noted here, ticked when it is done. */
function Noting({ sheet, act, busy }: { sheet: Sheet; act: (act: Act) => void; busy: boolean }) {
  const [code, setCode] = useState("checklist-open");
  const [subject, setSubject] = useState(sheet.subjects[0]?.value ?? "site");
  const [note, setNote] = useState("");
  const ready = code !== "checklist-open" || note.trim() !== "";
  return (
    <form
      aria-labelledby="noting"
      className="grid gap-2 border-t-2 border-ink pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        act({ do: "note", body: { code, subject, note } });
      }}
    >
      <h2 id="noting" className="text-lead font-semibold">
        Something else is open
      </h2>
      <Choice label="what" options={sheet.notable} value={code} set={setCode} box="w-full min-w-0" />
      <Choice label="where" options={sheet.subjects} value={subject} set={setSubject} box="w-full min-w-0" />
      <LineField label="in words" value={note} set={setNote} />
      <button type="submit" className="btn justify-self-start" disabled={busy || !ready}>
        Note it
      </button>
    </form>
  );
}

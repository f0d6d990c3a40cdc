import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useEffect, useState } from "react";
import { useLocation, useNavigate, useSearchParams } from "react-router";
import { showAnswer } from "./api/answered";
import { ask, client, type Refused, type Schemas } from "./api/client";
import { useSession } from "./api/site";
import { Trouble } from "./parts/Feedback";

/** Who works here. */
export function SignIn() {
  const session = useSession(); // brings the token that signing in needs
  const [asked] = useSearchParams();
  const invite = asked.get("invite");
  const token = asked.get("first") ?? invite;
  const first = asked.has("first") && session.data?.first === true;
  const offer = useQuery<Schemas["Offer"], Refused>({
    queryKey: ["invited", invite],
    queryFn: () => ask(client.POST("/api/session/invited", { body: { token: invite ?? "" } })),
    enabled: invite !== null && session.isSuccess, // which brings the token that the question needs
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const fresh = first || offer.isSuccess; // a name or password is chosen here
  const named = offer.data?.user ?? null;
  const [coded, setCoded] = useState(false);
  const [error, setError] = useState<Error | null>(null);
  const [waiting, setWaiting] = useState(false);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const wanted: unknown = useLocation().state?.wanted; // the page that was opened, say by the code on a label
  useEffect(() => {
    document.title = "Sign in · Tutelar";
  }, []);

  async function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const said = (name: string) => String(form.get(name) ?? "");
    const body = { username: said("username"), password: said("password") };
    setWaiting(true);
    setError(null);
    try {
      const answer = first
        ? client.POST("/api/session/first", { body: { ...body, token: token ?? "" } })
        : offer.isSuccess
          ? client.POST("/api/session/accepted", { body: { ...body, token: token ?? "" } })
          : client.POST("/api/session", { body: { ...body, code: said("code") } });
      const signedIn = await ask<Schemas["Session"]>(answer);
      showAnswer(queries, ["session"], signedIn);
      const goes = signedIn.user === null ? "/sign-in" : typeof wanted === "string" ? wanted : "/";
      navigate(goes, { replace: true });
    } catch (problem) {
      const wantsCode = (problem as Refused).faults?.some((fault) => fault.path === "code");
      if (wantsCode) setCoded(true);
      if (!wantsCode || coded) setError(problem as Error);
    } finally {
      setWaiting(false);
    }
  }
  return (
    <main className="mx-auto grid min-h-dvh max-w-md content-center gap-6 p-4">
      <div>
        <h1 className="text-step font-bold text-kelp">Tutelar</h1>
        <p className="text-lead text-ink-2">The job sheet that measures.</p>
      </div>
      {session.data?.first && (
        <p>
          {first
            ? "This is the first start: choose the name and password of whoever owns this Tutelar."
            : "Nobody has an account here yet. Open the link that the server printed when it started."}
        </p>
      )}
      {offer.error && <Trouble error={offer.error} />}
      {offer.data && (
        <p>
          {named
            ? `Choose a new password for ${named}; it ends every session that is open.`
            : `You are invited as ${offer.data.role}: choose the name that stands under what you do, and a password.`}
        </p>
      )}
      <form onSubmit={submit} className="slip grid gap-4">
        {!named && (
          <label className="grid gap-1 font-semibold">
            Name
            <input name="username" autoComplete="username" required className="box font-normal" />
          </label>
        )}
        <label className="grid gap-1 font-semibold">
          Password
          <input
            name="password"
            type="password"
            autoComplete={fresh ? "new-password" : "current-password"}
            required
            className="box font-mono font-normal"
          />
          {fresh && <span className="text-small font-normal text-ink-2">Ten signs or more.</span>}
        </label>
        {coded && (
          <label className="grid gap-1 font-semibold">
            Code of your authenticator app
            <input
              name="code"
              autoComplete="one-time-code"
              autoCapitalize="off"
              spellCheck={false}
              required
              // biome-ignore lint/a11y/noAutofocus: it is what was asked for just now
              autoFocus
              className="box font-mono font-normal"
            />
            <span className="text-small font-normal text-ink-2">
              Without the phone: one of your recovery codes.
            </span>
          </label>
        )}
        {error && <Trouble error={error} />}
        <button type="submit" className="btn btn-main justify-center" disabled={waiting}>
          {waiting ? "Signing in …" : named ? "Choose it" : fresh ? "Make the account" : "Sign in"}
        </button>
      </form>
    </main>
  );
}

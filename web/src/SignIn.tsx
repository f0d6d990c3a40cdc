import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useEffect, useState } from "react";
import { useLocation, useNavigate, useSearchParams } from "react-router";
import { ask, client, type Schemas } from "./api/client";
import { useSession } from "./api/site";
import { Trouble } from "./parts/Feedback";

/** Who works here. */
export function SignIn() {
  const session = useSession(); // brings the token that signing in needs
  const token = useSearchParams()[0].get("first");
  const first = token !== null && session.data?.first === true;
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
    const body = { username: String(form.get("username")), password: String(form.get("password")) };
    setWaiting(true);
    try {
      const answer = first
        ? client.POST("/api/session/first", { body: { ...body, token: token ?? "" } })
        : client.POST("/api/session", { body });
      queries.setQueryData(["session"], await ask<Schemas["Session"]>(answer));
      navigate(typeof wanted === "string" ? wanted : "/", { replace: true });
    } catch (problem) {
      setError(problem as Error);
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
      <form onSubmit={submit} className="slip grid gap-4">
        <label className="grid gap-1 font-semibold">
          Name
          <input name="username" autoComplete="username" required className="box font-normal" />
        </label>
        <label className="grid gap-1 font-semibold">
          Password
          <input
            name="password"
            type="password"
            autoComplete={first ? "new-password" : "current-password"}
            required
            className="box font-mono font-normal"
          />
        </label>
        {error && <Trouble error={error} />}
        <button type="submit" className="btn btn-main justify-center" disabled={waiting}>
          {waiting ? "Signing in …" : first ? "Make the account" : "Sign in"}
        </button>
      </form>
    </main>
  );
}

import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { ask, client, type Refused } from "../api/client";
import { useSession } from "../api/site";
import { NAME, UserName } from "./Account";
import { Trouble } from "./Feedback";
import { setSingleKeys, singleKeysOn } from "./keys";
import { OwnSecond } from "./OwnSecond";
import { PasswordField } from "./PasswordField";
import { useRight } from "./Rights";
import { chooseTheme, chosenTheme, type Theme } from "./theme";

/** The name of whoever is signed in, with what stands behind it. */
export function AccountMenu({ user }: { user: string }) {
  return (
    <Popover className="relative flex">
      <PopoverButton className={NAME}>
        <UserName user={user} />
      </PopoverButton>
      <PopoverPanel className="slip absolute top-full right-0 z-20 max-h-[calc(100dvh-10rem)] w-[min(20rem,80vw)] overflow-auto">
        <h2 className="font-semibold">Signed in as {user}</h2>
        <Standing />
        <Choices />
      </PopoverPanel>
    </Popover>
  );
}

/** By which role one works, and what owners look after. */
function Standing() {
  const session = useSession().data;
  const people = useRight("people");
  return (
    <div className="grid pb-2 text-small">
      <p className="text-ink-2">
        {session?.role ? `By the role of ${session.role}` : "Nobody gave you a role yet"}
      </p>
      {people && (
        <nav aria-label="Of the firm" className="flex gap-5">
          <Link className="inline-flex min-h-11 items-center" to="/people">
            People
          </Link>
          <Link className="inline-flex min-h-11 items-center" to="/doing">
            How is it doing
          </Link>
        </nav>
      )}
    </div>
  );
}

/** Theme, single keys, signing out. */
function Choices() {
  const [theme, setTheme] = useState<Theme>(chosenTheme());
  const [keys, setKeys] = useState(singleKeysOn());
  const queries = useQueryClient();
  const navigate = useNavigate();

  async function signOut(everywhere: boolean) {
    await ask(everywhere ? client.DELETE("/api/session/everywhere") : client.DELETE("/api/session"));
    queries.clear();
    navigate("/sign-in");
  }
  return (
    <div className="grid gap-2 text-small">
      <label className="flex items-center justify-between gap-2">
        Theme
        <select
          className="box text-small"
          value={theme}
          onChange={(event) => {
            const chosen = event.target.value as Theme;
            setTheme(chosen);
            chooseTheme(chosen);
          }}
        >
          <option value="system">as the system</option>
          <option value="light">light</option>
          <option value="dark">dark</option>
        </select>
      </label>
      <label className="flex min-h-11 items-center gap-2">
        <input
          type="checkbox"
          className="size-5 accent-kelp"
          checked={keys}
          onChange={(event) => {
            setKeys(event.target.checked);
            setSingleKeys(event.target.checked);
          }}
        />
        Single keys (Space, 1, 2, A–F)
      </label>
      <OwnPassword />
      <OwnSecond />
      <button type="button" className="btn justify-center" onClick={() => signOut(false)}>
        Sign out
      </button>
      <button type="button" className="min-h-11 underline underline-offset-4" onClick={() => signOut(true)}>
        Sign out on every device
      </button>
    </div>
  );
}

/** One's own password; every other session of it ends. */
function OwnPassword() {
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const change = useMutation<unknown, Refused>({
    mutationFn: () =>
      ask(client.PUT("/api/session/password", { body: { old_password: old, password: fresh } })),
    onSuccess: () => {
      setOld("");
      setFresh("");
    },
  });
  return (
    <details>
      <summary className="min-h-11 cursor-pointer py-2.5">Change my password</summary>
      <form
        className="grid gap-2 pb-2"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate();
        }}
      >
        <PasswordField label="present password" value={old} set={setOld} />
        <PasswordField label="new password, ten signs or more" value={fresh} set={setFresh} fresh />
        {change.error && <Trouble error={change.error} />}
        {change.isSuccess && <p role="status">It is changed; every other session has ended.</p>}
        <button type="submit" className="btn justify-center" disabled={change.isPending || !old || !fresh}>
          Change it
        </button>
      </form>
    </details>
  );
}

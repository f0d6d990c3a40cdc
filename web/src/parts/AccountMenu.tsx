import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { ask, client } from "../api/client";
import { NAME, UserName } from "./Account";
import { setSingleKeys, singleKeysOn } from "./keys";
import { chooseTheme, chosenTheme, type Theme } from "./theme";

/** The name of whoever is signed in, with what stands behind it. */
export function AccountMenu({ user }: { user: string }) {
  return (
    <Popover className="relative flex">
      <PopoverButton className={NAME}>
        <UserName user={user} />
      </PopoverButton>
      <PopoverPanel className="slip absolute top-full right-0 z-20 w-[min(20rem,80vw)]">
        <h2 className="pb-2 font-semibold">Signed in as {user}</h2>
        <Choices />
      </PopoverPanel>
    </Popover>
  );
}

/** Theme, single keys, signing out. */
function Choices() {
  const [theme, setTheme] = useState<Theme>(chosenTheme());
  const [keys, setKeys] = useState(singleKeysOn());
  const queries = useQueryClient();
  const navigate = useNavigate();

  async function signOut() {
    await ask(client.DELETE("/api/session"));
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
      <button type="button" className="btn justify-center" onClick={signOut}>
        Sign out
      </button>
    </div>
  );
}

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { showAnswer } from "../api/answered";
import { ask, client, type Refused, type Schemas } from "../api/client";
import { useSession } from "../api/site";
import { CopyButton } from "./CopyButton";
import { Trouble } from "./Feedback";
import { LineField } from "./LineField";
import { PasswordField } from "./PasswordField";

/** One's own second factor: begun with a picture for the app, confirmed by its code, switched off by the password. */
export function OwnSecond() {
  const on = useSession().data?.second ?? false;
  return (
    <details>
      <summary className="min-h-11 cursor-pointer py-2.5">Second factor: {on ? "on" : "off"}</summary>
      <div className="grid gap-2 pb-2">{on ? <SwitchOff /> : <Begin />}</div>
    </details>
  );
}

function Begin() {
  const queries = useQueryClient();
  const [code, setCode] = useState("");
  const [password, setPassword] = useState("");
  const begin = useMutation<Schemas["Begun"], Refused>({
    mutationFn: () => ask(client.POST("/api/session/second", { body: { password } })),
    onSuccess: () => setPassword(""),
  });
  const confirm = useMutation<Schemas["Recovery"], Refused>({
    mutationFn: () => ask(client.PUT("/api/session/second", { body: { code } })),
  });
  const begun = begin.data;
  if (confirm.data) {
    const codes = confirm.data.codes;
    return (
      <div role="status" className="grid gap-2">
        <p>
          It is on. Each of these opens the account once if the phone is lost. They are shown this once: write
          them down where only you find them.
        </p>
        <ul className="font-mono text-small">
          {codes.map((one) => (
            <li key={one}>{one}</li>
          ))}
        </ul>
        <div className="flex items-center gap-3">
          <CopyButton value={codes.join("\n")} what="the recovery codes" />
          <button
            type="button"
            className="btn"
            onClick={() => queries.invalidateQueries({ queryKey: ["session"] })}
          >
            I have them
          </button>
        </div>
      </div>
    );
  }
  if (!begun)
    return (
      <form
        className="grid gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          begin.mutate();
        }}
      >
        <p className="text-ink-2">A code of your phone, beside the password, at every sign-in.</p>
        <PasswordField label="your password" value={password} set={setPassword} />
        {begin.error && <Trouble error={begin.error} />}
        <button type="submit" className="btn justify-center" disabled={begin.isPending || !password}>
          Set it up
        </button>
      </form>
    );
  return (
    <form
      className="grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        confirm.mutate();
      }}
    >
      <p>Scan it with an authenticator app, then type the code that the app shows.</p>
      <img
        className="size-44 justify-self-center"
        alt="Code for your authenticator app"
        src={`data:image/svg+xml;utf8,${encodeURIComponent(begun.svg)}`}
      />
      <p className="font-mono text-small [overflow-wrap:anywhere]">{begun.secret}</p>
      <LineField label="code of the app" value={code} set={setCode} most={40} />
      {confirm.error && <Trouble error={confirm.error} />}
      <button type="submit" className="btn justify-center" disabled={confirm.isPending || !code.trim()}>
        Switch it on
      </button>
    </form>
  );
}

function SwitchOff() {
  const queries = useQueryClient();
  const [password, setPassword] = useState("");
  const off = useMutation<Schemas["Session"], Refused>({
    mutationFn: () => ask(client.DELETE("/api/session/second", { body: { password } })),
    onSuccess: (session) => showAnswer(queries, ["session"], session),
  });
  return (
    <form
      className="grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        off.mutate();
      }}
    >
      <PasswordField label="your password" value={password} set={setPassword} />
      {off.error && <Trouble error={off.error} />}
      <button type="submit" className="btn justify-center" disabled={off.isPending || !password}>
        Switch it off
      </button>
    </form>
  );
}

import { useNavigate, useSearchParams } from "react-router";
import { useSheet, useSiteKey } from "../../api/site";
import { Page } from "../../parts/Page";
import { StageNext } from "../../parts/StageNext";
import { Choices } from "./Choices";
import { Clocks } from "./Clocks";
import { Passwords } from "./Passwords";
import { Ports } from "./Ports";

const PARTS = [
  ["passwords", "Passwords"],
  ["clocks", "Clocks"],
  ["choices", "Picture and sound"],
  ["ports", "Ports"],
] as const;

/** What is typed into the devices, for the whole site: passwords, clocks, picture and sound, ports. */
export function Settings() {
  const [search, setSearch] = useSearchParams();
  const asked = search.get("part");
  const shown = PARTS.find(([key]) => key === asked)?.[0] ?? "passwords";
  const secrets = useSheet("secrets");
  const clocks = useSheet("clocks", shown === "clocks");
  const choices = useSheet("choices", shown === "choices");
  const ports = useSheet("ports", shown === "ports");
  const fetched = { passwords: secrets, clocks, choices, ports }[shown];
  return (
    <>
      <Page
        title="Settings"
        fetched={fetched as typeof secrets}
        aside={
          <nav aria-label="Parts of the settings">
            <ul className="flex flex-wrap">
              {PARTS.map(([key, word]) => (
                <li key={key}>
                  <button
                    type="button"
                    aria-current={key === shown ? "page" : undefined}
                    className={`min-h-11 px-3 ${key === shown ? "border-b-4 border-kelp font-bold" : "font-medium underline underline-offset-4"}`}
                    onClick={() => setSearch({ part: key }, { replace: true })}
                  >
                    {word}
                  </button>
                </li>
              ))}
            </ul>
          </nav>
        }
      >
        {() => (
          <>
            {shown === "passwords" && secrets.data && <Passwords data={secrets.data} />}
            {shown === "clocks" && clocks.data && <Clocks data={clocks.data} />}
            {shown === "choices" && choices.data && <Choices data={choices.data} />}
            {shown === "ports" && ports.data && <Ports data={ports.data} />}
          </>
        )}
      </Page>
      <Next />
    </>
  );
}

/** What the settings still wait for; with nothing open, the bench is next. */
function Next() {
  const navigate = useNavigate();
  const site = useSiteKey();
  return (
    <StageNext
      stage="settings"
      acts={({ act, subjects: [device] }) =>
        act === "device"
          ? { label: "Open the device", run: () => navigate(`/sites/${site}/devices/${device}`) }
          : undefined
      }
    />
  );
}

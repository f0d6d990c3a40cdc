import {
  Menu,
  MenuButton,
  MenuItem,
  MenuItems,
  Popover,
  PopoverButton,
  PopoverPanel,
} from "@headlessui/react";
import { useEffect, useRef, useState } from "react";
import { Link, NavLink, Outlet, useLocation, useNavigate } from "react-router";
import type { Schemas } from "../api/client";
import { useFrame, useJob, useSiteKey } from "../api/site";
import { STAGES, stageWord } from "../stages/stages";
import { Account } from "./Account";
import { Commands } from "./Commands";
import { LoadingPage, Trouble } from "./Feedback";
import { Finder } from "./Finder";
import { type Keys, useKeys } from "./keys";
import { Mark } from "./Mark";
import { StageMark } from "./StageMark";

type Row = Schemas["StageRow"];
/** The log stands among the stages, though nothing is ever open in it. */
const LOG = { stage: "log", word: "Log" } as const;

/** The frame of every screen of a site: the job line above, the stage below. */
export function Frame() {
  const frame = useFrame();
  const job = useJob();
  const rows = job.data?.stages ?? [];
  const key = useSiteKey();
  const [finding, setFinding] = useState(false);
  const stage = useLocation().pathname.split("/")[3] ?? "";
  useStageKeys(key);
  useKeys({ "/": () => setFinding(true) });
  useEffect(() => {
    document.title = `${stageWord(stage)} · ${frame.data?.name ?? key} · Tutelar`;
  }, [stage, frame.data?.name, key]);

  if (frame.isPending) return <LoadingPage what="the site" />;
  if (!frame.data)
    return (
      <main className="p-6">
        <h1 className="pb-4 text-title font-bold">This site cannot be opened</h1>
        <Trouble error={frame.error} retry={() => frame.refetch()} />
        <p className="mt-4">
          <Link to="/">All sites</Link>
        </p>
      </main>
    );
  return (
    <div className="flex h-dvh flex-col">
      <header className="no-print flex min-h-14 shrink-0 items-stretch border-b border-hair px-4 md:px-6">
        <Link to="/" className="flex min-w-0 flex-col justify-center pr-4 no-underline xl:pr-6">
          <span className="text-cell font-semibold whitespace-nowrap text-kelp">
            Tutelar
            {frame.data.practice && (
              <span className="ml-2 bg-brass-wash px-1 text-brass" title="Nothing here proves a real site">
                Practice site
              </span>
            )}
          </span>
          <span className="max-w-56 truncate font-semibold leading-5 text-ink" title={frame.data.name}>
            {frame.data.name}
          </span>
        </Link>
        <StageList rows={rows} site={key} />
        <StageMenu rows={rows} site={key} current={stage} />
        <button
          type="button"
          className="ml-auto flex min-h-11 items-center gap-2 self-center px-2 text-list font-medium"
          onClick={() => setFinding(true)}
        >
          Find <kbd className="key max-md:hidden">/</kbd>
        </button>
        <Account />
        {frame.data.live && (
          <Link
            to={`/sites/${key}/proof`}
            className="ml-2 self-center border border-red px-2 text-small font-bold text-red no-underline"
            title="This server may measure real devices"
          >
            Live
          </Link>
        )}
        {job.data && <LaptopState laptop={job.data.laptop} site={key} />}
      </header>
      <Outlet />
      <Finder open={finding} close={() => setFinding(false)} devices={frame.data.devices} />
    </div>
  );
}

/** G, then a letter within a second and a half, goes to a stage. */
function useStageKeys(site: string) {
  const navigate = useNavigate();
  const pressedAt = useRef(0);
  const keys: Keys = { g: () => (pressedAt.current = Date.now()) };
  useKeys(keys);
  useEffect(() => {
    function press(event: KeyboardEvent) {
      if (Date.now() - pressedAt.current > 1500 || event.key === "g") return;
      const found = STAGES.find((item) => item.letter === event.key.toLowerCase());
      pressedAt.current = 0;
      if (!found) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      navigate(`/sites/${site}/${found.stage}`);
    }
    window.addEventListener("keydown", press, { capture: true });
    return () => window.removeEventListener("keydown", press, { capture: true });
  }, [navigate, site]);
}

function StageList({ rows, site }: { rows: Row[]; site: string }) {
  return (
    <nav aria-label="Stages" className="hidden lg:flex">
      <ul className="flex">
        {[...STAGES, LOG].map(({ stage, word }) => (
          <li key={stage} className="flex">
            <NavLink
              to={`/sites/${site}/${stage}`}
              className={({ isActive }) =>
                `relative flex min-h-11 items-center gap-1.5 px-2 text-ink no-underline xl:px-3 ${
                  isActive
                    ? "font-bold after:absolute after:inset-x-2 after:-bottom-px after:h-[5px] after:bg-kelp"
                    : "font-medium"
                }`
              }
            >
              {word}
              <StageMark row={rows.find((item) => item.stage === stage)} />
            </NavLink>
          </li>
        ))}
      </ul>
    </nav>
  );
}

/** On a narrow screen: the current stage, and the others behind it. */
function StageMenu({ rows, site, current }: { rows: Row[]; site: string; current: string }) {
  return (
    <Menu>
      <MenuButton className="ml-auto flex min-h-11 items-center gap-1.5 self-stretch border-b-[5px] border-kelp px-2 font-bold lg:hidden">
        {stageWord(current)}
        <StageMark row={rows.find((item) => item.stage === current)} />
      </MenuButton>
      <MenuItems anchor="bottom end" className="z-20 border border-field bg-sheet p-1">
        {STAGES.map(({ stage, word }) => (
          <MenuItem key={stage}>
            <Link
              to={`/sites/${site}/${stage}`}
              className="flex min-h-12 min-w-48 items-center justify-between gap-4 px-4 text-ink no-underline data-focus:bg-wash"
            >
              {word}
              <StageMark row={rows.find((item) => item.stage === stage)} />
            </Link>
          </MenuItem>
        ))}
        <MenuItem>
          <Link
            to={`/sites/${site}/${LOG.stage}`}
            className="flex min-h-12 items-center px-4 text-ink no-underline data-focus:bg-wash"
          >
            {LOG.word}
          </Link>
        </MenuItem>
      </MenuItems>
    </Menu>
  );
}

/** The adapter of this laptop. While it is fixed by hand, pressing it says how it is set back. */
function LaptopState({ laptop, site }: { laptop: Schemas["Laptop"]; site: string }) {
  const look =
    "ml-2 flex items-center gap-2 border-l border-hair pl-3 text-right text-note text-ink-2 xl:ml-4 xl:pl-5";
  if (!laptop.fixed)
    return (
      <div className={look}>
        <Mark name="set" size={20} />
        <span className="max-xl:sr-only">Laptop automatic</span>
      </div>
    );
  return (
    <Popover className="flex">
      <PopoverButton className={look}>
        <Mark name="off" size={20} />
        <span className="max-md:sr-only">
          Laptop fixed at
          <b className="block font-mono text-small font-semibold text-ink">{laptop.address}</b>
        </span>
      </PopoverButton>
      <PopoverPanel anchor="bottom end" className="slip z-20 w-[min(30rem,94vw)]">
        <h2 className="font-semibold">
          This laptop is still fixed at <span className="font-mono">{laptop.address}</span>
        </h2>
        <p className="pb-2 text-small text-ink-2">
          The internet is gone until it is automatic again. The bench says when; this is how.
        </p>
        <Commands commands={laptop.back} what="the way back" />
        <Link to={`/sites/${site}/bench`} className="inline-block pt-2">
          Go to the bench
        </Link>
      </PopoverPanel>
    </Popover>
  );
}

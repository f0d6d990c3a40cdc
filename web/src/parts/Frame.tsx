import { lazy, Suspense, useEffect, useRef, useState } from "react";
import { Link, NavLink, Outlet, useLocation, useNavigate } from "react-router";
import type { Schemas } from "../api/client";
import { useFrame, useJob, useSiteKey } from "../api/site";
import { STAGES, stageWord } from "../stages/stages";
import { Account } from "./Account";
import { LoadingPage, Trouble } from "./Feedback";
import { LAPTOP, LOG, type Row, STAGE_NAME } from "./jobLine";
import { type Keys, useKeys } from "./keys";
import { later } from "./later";
import { Mark } from "./Mark";
import { useRight } from "./Rights";
import { StageMark } from "./StageMark";

const fetchMenus = () => import("./Menus");
const Stages = lazy(() => later(fetchMenus).then((part) => ({ default: part.Stages })));
const FixedLaptop = lazy(() => later(fetchMenus).then((part) => ({ default: part.FixedLaptop })));
const Finder = lazy(() => later(() => import("./Finder")).then((part) => ({ default: part.Finder })));

/** The frame of every screen of a site: the job line above, the stage below. */
export function Frame() {
  const frame = useFrame();
  const job = useJob();
  const rows = job.data?.stages ?? [];
  const key = useSiteKey();
  const mayChange = useRight("work");
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
          <span
            className="max-w-50 truncate font-semibold leading-5 text-ink 2xl:max-w-64"
            title={frame.data.name}
          >
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
        {!mayChange && (
          <span
            className="ml-2 self-center border border-field px-2 text-small whitespace-nowrap"
            title="Your role looks at sites and changes nothing"
          >
            view only
          </span>
        )}
        {frame.data.on_test.map((test) => (
          <OnTest key={test.hub} test={test} site={key} />
        ))}
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
      <Suspense fallback={null}>
        <Finder open={finding} close={() => setFinding(false)} devices={frame.data.devices} />
      </Suspense>
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
                `relative flex min-h-11 flex-col justify-center px-1.5 leading-5 whitespace-nowrap text-ink no-underline 2xl:px-2.5 ${
                  isActive
                    ? "font-bold after:absolute after:inset-x-1 after:-bottom-px after:h-[5px] after:bg-kelp"
                    : "font-medium"
                }`
              }
            >
              {word}
              <StageMark row={rows.find((item) => item.stage === stage)} below />
            </NavLink>
          </li>
        ))}
      </ul>
    </nav>
  );
}

/** On a narrow screen: the current stage, and the others behind it. */
function StageMenu({ rows, site, current }: { rows: Row[]; site: string; current: string }) {
  const name = (
    <>
      {stageWord(current)}
      <StageMark row={rows.find((item) => item.stage === current)} />
    </>
  );
  return (
    <Suspense fallback={<span className={STAGE_NAME}>{name}</span>}>
      <Stages rows={rows} site={site} name={name} />
    </Suspense>
  );
}

/** An alarm hub whose signals the station takes as tests: until when, on every screen, until it is off test. */
function OnTest({ test, site }: { test: Schemas["StationTest"]; site: string }) {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 10_000);
    return () => clearInterval(timer);
  }, []);
  const left = test.until ? Math.ceil((new Date(test.until).getTime() - now) / 60_000) : null;
  const words = left === null ? "on test" : left > 0 ? `on test, ${left} min` : "test is over";
  return (
    <Link
      to={`/sites/${site}/doors?part=alarm`}
      className="ml-2 flex min-h-11 items-center gap-1.5 self-center text-small font-bold text-brass no-underline"
      title={`The station takes the signals of ${test.name} as tests`}
    >
      <Mark name="off" /> <span className="max-md:sr-only">{words}</span>
    </Link>
  );
}

/** The adapter of this laptop. While it is fixed by hand, pressing it says how it is set back. */
function LaptopState({ laptop, site }: { laptop: Schemas["Laptop"]; site: string }) {
  if (!laptop.fixed)
    return (
      <div className={LAPTOP}>
        <Mark name="set" size={20} />
        <span className="max-2xl:sr-only">Laptop automatic</span>
      </div>
    );
  return (
    <Suspense fallback={<span className={LAPTOP} />}>
      <FixedLaptop laptop={laptop} site={site} />
    </Suspense>
  );
}

import "@fontsource-variable/atkinson-hyperlegible-next";
import "@fontsource-variable/atkinson-hyperlegible-mono";
import "./theme.css";
import {
  type Mutation,
  MutationCache,
  QueryCache,
  QueryClient,
  QueryClientProvider,
} from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, Navigate, Outlet, useLocation, useRouteError } from "react-router";
import { RouterProvider } from "react-router/dom";
import { Refused } from "./api/client";
import { useJob, useSession } from "./api/site";
import { LoadingPage, Trouble } from "./parts/Feedback";
import { Frame } from "./parts/Frame";
import { applyTheme } from "./parts/theme";
import { SignIn } from "./SignIn";
import { Sites } from "./Sites";
import { STAGES } from "./stages/stages";

/** Whoever is not signed in any more is asked to: what was typed waits for that. */
function signedOut(error: Error) {
  if (error instanceof Refused && error.status === 401) queries.invalidateQueries({ queryKey: ["session"] });
}

const queries = new QueryClient({
  queryCache: new QueryCache({ onError: signedOut }),
  mutationCache: new MutationCache({ onError: signedOut }),
  defaultOptions: {
    // the server may be on this very laptop, whose cable is out: whether there is a network says nothing
    mutations: { networkMode: "always" },
    queries: {
      networkMode: "always",
      retry: (count, error) => error instanceof Refused && error.status === 0 && count < 3,
      staleTime: 5_000,
    },
  },
});

/** Only for people who are signed in; everybody else signs in first. */
function SignedIn() {
  const session = useSession();
  const { pathname, search } = useLocation();
  if (session.isPending) return <LoadingPage what="your session" />;
  if (!session.data) return <Trouble error={session.error} retry={() => session.refetch()} />;
  return session.data.user ? (
    <Outlet />
  ) : (
    <Navigate to="/sign-in" replace state={{ wanted: pathname + search }} />
  );
}

/** Opening a site goes to the stage of its next thing. */
function ToNext() {
  const job = useJob();
  return job.data ? <Navigate to={job.data.next.stage} replace /> : <LoadingPage what="the site" />;
}

function Lost() {
  return (
    <main className="p-6">
      <h1 className="text-title font-bold">There is nothing at this address</h1>
      <p className="mt-2">
        <a href="/">All sites</a>
      </p>
    </main>
  );
}

/** A page that broke: what was stored is safe, what was typed mostly too. */
function Broken() {
  const error = useRouteError();
  return (
    <main className="p-6">
      <h1 className="pb-4 text-title font-bold">This page broke</h1>
      <Trouble
        error={new Error("The fault is Tutelar’s, not yours. What was stored is safe; open the page again.")}
        retry={() => window.location.reload()}
      />
      <p className="mt-4 text-ink-2">
        For whoever mends it: {error instanceof Error ? error.message : String(error)}.
      </p>
    </main>
  );
}

const router = createBrowserRouter([
  { path: "/sign-in", Component: SignIn },
  {
    Component: SignedIn,
    ErrorBoundary: Broken,
    hydrateFallbackElement: <LoadingPage what="the page" />,
    children: [
      { path: "/", Component: Sites },
      {
        path: "/models",
        lazy: () => import("./Catalogue").then((page) => ({ Component: page.Catalogue })),
      },
      {
        path: "/cards",
        lazy: () => import("./FirmCards").then((page) => ({ Component: page.FirmCards })),
      },
      { path: "/people", lazy: () => import("./People").then((page) => ({ Component: page.People })) },
      { path: "/doing", lazy: () => import("./Doing").then((page) => ({ Component: page.Doing })) },
      { path: "/log", lazy: () => import("./EveryLog").then((page) => ({ Component: page.EveryLog })) },
      {
        path: "/sites/:site",
        Component: Frame,
        children: [
          { index: true, Component: ToNext },
          ...STAGES.map(({ stage, page }) => ({ path: stage, lazy: page })),
          ...["log", "logbook"].map((path) => ({
            path, // the second is the address that older bookmarks have
            lazy: () => import("./stages/logbook/Logbook").then((page) => ({ Component: page.Logbook })),
          })),
          {
            path: "leaving",
            lazy: () => import("./stages/handover/Leaving").then((page) => ({ Component: page.Leaving })),
          },
          {
            path: "cards",
            lazy: () => import("./stages/cards/Cards").then((page) => ({ Component: page.Cards })),
          },
          {
            path: "asked",
            lazy: () => import("./stages/asked/Asked").then((page) => ({ Component: page.Asked })),
          },
          {
            path: "later",
            lazy: () => import("./stages/later/Later").then((page) => ({ Component: page.Later })),
          },
          {
            path: "remote",
            lazy: () => import("./stages/remote/Remote").then((page) => ({ Component: page.Remote })),
          },
          {
            path: "faults",
            lazy: () => import("./stages/faults/Faults").then((page) => ({ Component: page.Faults })),
          },
          {
            path: "faults/lessons/:number",
            lazy: () => import("./stages/faults/Lesson").then((page) => ({ Component: page.Lesson })),
          },
          {
            path: "faults/:number",
            lazy: () => import("./stages/faults/CasePage").then((page) => ({ Component: page.CasePage })),
          },
          {
            path: "devices/:device",
            lazy: () => import("./stages/device/DevicePage").then((page) => ({ Component: page.DevicePage })),
          },
        ],
      },
    ],
  },
  { path: "*", Component: Lost },
]);

/** How much is on its way, another page included, said on the page itself for whoever drives it. */
function sayHowBusy() {
  const turning = router.state.navigation.state === "idle" ? 0 : 1;
  document.documentElement.dataset.busy = String(queries.isFetching() + queries.isMutating() + turning);
}
queries.getQueryCache().subscribe(sayHowBusy);
queries.getMutationCache().subscribe(sayHowBusy);
router.subscribe(sayHowBusy);

applyTheme();
window.addEventListener("beforeunload", (leaving) => {
  const kept = (item: Mutation) => item.options.mutationKey?.[0] === "ticks"; // in the browser until answered
  if (queries.isMutating({ predicate: (item) => !kept(item) }) > 0) leaving.preventDefault(); // the browser asks before anything unsaved is lost
});
const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <RouterProvider router={router} />
      </QueryClientProvider>
    </StrictMode>,
  );

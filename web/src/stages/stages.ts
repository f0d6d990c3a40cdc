type Page = () => Promise<{ Component: () => React.JSX.Element }>;
type Stage = { stage: string; word: string; letter: string; page: Page };

/**
 * The one list of stages, in the order of the work, with the letter that goes there after G; a page is fetched when it is
 * first opened.
 */
export const STAGES: Stage[] = [
  {
    stage: "survey",
    word: "Survey",
    letter: "s",
    page: () => import("./survey/Survey").then((it) => ({ Component: it.Survey })),
  },
  {
    stage: "kit",
    word: "Kit",
    letter: "k",
    page: () => import("./kit/Kit").then((it) => ({ Component: it.Kit })),
  },
  {
    stage: "addresses",
    word: "Addresses",
    letter: "a",
    page: () => import("./addresses/Addresses").then((it) => ({ Component: it.Addresses })),
  },
  {
    stage: "settings",
    word: "Settings",
    letter: "t",
    page: () => import("./settings/Settings").then((it) => ({ Component: it.Settings })),
  },
  {
    stage: "bench",
    word: "Bench",
    letter: "b",
    page: () => import("./bench/Bench").then((it) => ({ Component: it.Bench })),
  },
  {
    stage: "links",
    word: "Links",
    letter: "l",
    page: () => import("./links/Links").then((it) => ({ Component: it.Links })),
  },
  {
    stage: "proof",
    word: "Proof",
    letter: "p",
    page: () => import("./proof/Proof").then((it) => ({ Component: it.Proof })),
  },
  {
    stage: "handover",
    word: "Handover",
    letter: "h",
    page: () => import("./handover/Handover").then((it) => ({ Component: it.Handover })),
  },
];

export function stageWord(stage: string): string {
  return (
    STAGES.find((item) => item.stage === stage)?.word ??
    { devices: "Device", logbook: "Logbook" }[stage] ??
    stage
  );
}

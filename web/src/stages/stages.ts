type Page = () => Promise<{ Component: () => React.JSX.Element }>;

const stage = (stage: string, word: string, letter: string, page: Page) => ({ stage, word, letter, page });

/**
 * The one list of stages, in the order of the work, with the letter that goes there after G; a page is fetched when it is
 * first opened.
 */
export const STAGES = [
  stage("survey", "Survey", "s", () => import("./survey/Survey").then((it) => ({ Component: it.Survey }))),
  stage("kit", "Kit", "k", () => import("./kit/Kit").then((it) => ({ Component: it.Kit }))),
  stage("addresses", "Addresses", "a", () =>
    import("./addresses/Addresses").then((it) => ({ Component: it.Addresses })),
  ),
  stage("settings", "Settings", "t", () =>
    import("./settings/Settings").then((it) => ({ Component: it.Settings })),
  ),
  stage("bench", "Bench", "b", () => import("./bench/Bench").then((it) => ({ Component: it.Bench }))),
  stage("links", "Links", "l", () => import("./links/Links").then((it) => ({ Component: it.Links }))),
  stage("recording", "Recording", "r", () =>
    import("./recording/Recording").then((it) => ({ Component: it.Recording })),
  ),
  stage("doors", "Doors", "d", () => import("./doors/Doors").then((it) => ({ Component: it.Doors }))),
  stage("proof", "Proof", "p", () => import("./proof/Proof").then((it) => ({ Component: it.Proof }))),
  stage("handover", "Handover", "h", () =>
    import("./handover/Handover").then((it) => ({ Component: it.Handover })),
  ),
];

export function stageWord(stage: string): string {
  return (
    STAGES.find((item) => item.stage === stage)?.word ??
    {
      asked: "Questions",
      cards: "Job cards",
      devices: "Device",
      faults: "Faults",
      later: "Later",
      leaving: "Leaving",
      remote: "Remote access",
      log: "Log",
      logbook: "Log",
    }[stage] ??
    stage
  );
}

/** The stages in the order of the work, with the letter that goes there after G. */
export const STAGES = [
  { stage: "survey", word: "Survey", letter: "s" },
  { stage: "kit", word: "Kit", letter: "k" },
  { stage: "addresses", word: "Addresses", letter: "a" },
  { stage: "settings", word: "Settings", letter: "t" },
  { stage: "bench", word: "Bench", letter: "b" },
  { stage: "links", word: "Links", letter: "l" },
  { stage: "proof", word: "Proof", letter: "p" },
  { stage: "handover", word: "Handover", letter: "h" },
] as const;

export function stageWord(stage: string): string {
  return (
    STAGES.find((item) => item.stage === stage)?.word ??
    { devices: "Device", logbook: "Logbook" }[stage] ??
    stage
  );
}

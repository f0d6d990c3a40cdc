import type { Schemas } from "../api/client";

export type Row = Schemas["StageRow"];
/** The log stands among the stages, though nothing is ever open in it. */
export const LOG = { stage: "log", word: "Log" } as const;
export const STAGE_NAME =
  "ml-auto flex min-h-11 items-center gap-1.5 self-stretch border-b-[5px] border-kelp px-2 font-bold lg:hidden";
export const LAPTOP =
  "ml-2 flex items-center gap-2 border-l border-hair pl-3 text-right text-note text-ink-2 xl:ml-4 xl:pl-5";

import { useNavigate } from "react-router";
import type { Schemas } from "../api/client";
import { useJob, useSiteKey } from "../api/site";
import { stageWord } from "../stages/stages";
import { type Act, NextBar } from "./NextBar";

export type Next = Schemas["NextThing"];
type Press = Omit<Act, "key">;

/** The next thing of a stage, as the server decides it. */
function useNext(stage: string): Next | undefined {
  return useJob().data?.stages.find((item) => item.stage === stage)?.next;
}

/**
 * The bar of a stage: the sentence is the server's, `acts` are what a press does here. What leads to another stage is
 * done for every page.
 */
export function StageNext({
  stage,
  acts,
  others,
}: {
  stage: string;
  acts: (next: Next) => Press | undefined;
  others?: (next: Next) => Act[];
}) {
  const next = useNext(stage);
  const site = useSiteKey();
  const navigate = useNavigate();
  if (!next) return null;
  const { goes } = next;
  const there = goes && {
    label: `Go to ${["proof", "handover", "bench", "kit"].includes(goes) ? "the " : ""}${stageWord(goes).toLowerCase()}`,
    run: () => navigate(`/sites/${site}/${goes}`),
  };
  const act = acts(next) ?? there;
  return (
    <NextBar
      sentence={next.sentence}
      detail={next.detail}
      go={act ? { key: " ", ...act } : undefined}
      others={others?.(next) ?? []}
    />
  );
}

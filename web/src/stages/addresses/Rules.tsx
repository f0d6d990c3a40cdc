import { type FormEvent, useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSheet } from "../../api/site";
import { LargeDialog } from "../../parts/Dialog";
import { Loading, Trouble } from "../../parts/Feedback";

type Policy = Record<string, unknown>;
type Block = { families: string[]; first: number; last: number };

/** The site's own rules for the plan: room to grow, numbers that follow channels, blocks by family. */
export function Rules({ close }: { close: () => void }) {
  const survey = useSheet("survey");
  return (
    <LargeDialog title="Rules of the plan" close={close}>
      {survey.isPending && <Loading what="the rules" />}
      {survey.error && <Trouble error={survey.error} retry={() => survey.refetch()} />}
      {survey.data && <Form policy={survey.data.policy} revision={survey.data.revision} close={close} />}
    </LargeDialog>
  );
}

function Form({ policy, revision, close }: { policy: Policy; revision: number; close: () => void }) {
  const [growth, setGrowth] = useState(String(Math.round(Number(policy.growth ?? 0.25) * 100)));
  const [match, setMatch] = useState(policy.match_channel === true);
  const [blocks, setBlocks] = useState(written(policy.blocks));
  const [wrong, setWrong] = useState<Error | null>(null);
  const save = useChange((key, body: Schemas["SurveyChange"]) =>
    ask(client.PATCH("/api/sites/{key}/survey", { params: { path: { key } }, body })),
  );
  function submit(event: FormEvent) {
    event.preventDefault();
    setWrong(null);
    try {
      const fresh = { ...policy, growth: share(growth), match_channel: match, blocks: read(blocks) };
      save.mutate({ revision, policy: fresh }, { onSuccess: close });
    } catch (error) {
      setWrong(error as Error);
    }
  }
  return (
    <form onSubmit={submit} className="mt-3 grid gap-4" noValidate>
      <p className="text-ink-2">They hold for devices that have no address yet; what is set stays.</p>
      <label className="grid w-56 gap-1">
        Room to grow in each block, percent
        <input className="box font-mono" value={growth} onChange={(event) => setGrowth(event.target.value)} />
      </label>
      <label className="flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          className="size-5"
          checked={match}
          onChange={(event) => setMatch(event.target.checked)}
        />
        A camera’s number follows its channel: channel 7 becomes .107
      </label>
      <label className="grid gap-1">
        Own blocks, a line each: families, then first–last, counted from the network’s first address
        <textarea
          rows={4}
          className="box py-2 font-mono text-list"
          placeholder="camera, encoder 20–119"
          value={blocks}
          onChange={(event) => setBlocks(event.target.value)}
        />
      </label>
      {(wrong ?? save.error) && <Trouble error={(wrong ?? save.error) as Error} />}
      <button type="submit" className="btn btn-main justify-self-start" disabled={save.isPending}>
        Save these rules
      </button>
    </form>
  );
}

function written(blocks: unknown): string {
  if (!Array.isArray(blocks)) return "";
  return (blocks as Block[])
    .map((block) => `${block.families.join(", ")} ${block.first}–${block.last}`)
    .join("\n");
}

function read(typed: string): "auto" | Block[] {
  const lines = typed
    .split("\n")
    .map((line) => line.trim())
    .filter(Boolean);
  if (lines.length === 0) return "auto";
  return lines.map((line) => {
    const match = /^([a-z\-, ]+?)\s+(\d+)\s*[-–]\s*(\d+)$/.exec(line);
    if (!match) throw new Error(`“${line}” is no block; write it like: camera, encoder 20–119.`);
    const families = (match[1] ?? "").split(",").map((family) => family.trim());
    return { families, first: Number(match[2]), last: Number(match[3]) };
  });
}

function share(typed: string): number {
  const percent = Number(typed.trim().replace(",", "."));
  if (!Number.isFinite(percent) || percent < 0)
    throw new Error(`“${typed}” is no percentage; write 0 or more, usually 25.`);
  return percent / 100;
}

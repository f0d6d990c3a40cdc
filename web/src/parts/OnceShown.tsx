import { CopyButton } from "./CopyButton";

/** A link that is shown once: the server keeps no more than its hash. */
export function OnceShown({ link, says }: { link: string; says: string }) {
  return (
    <div role="status" className="grid basis-full gap-1 border-l-4 border-kelp bg-paper px-3 py-2">
      <p className="text-small">{says}</p>
      <p className="font-mono text-small [overflow-wrap:anywhere]">{link}</p>
      <CopyButton value={link} what="the link" />
    </div>
  );
}

import { Caution } from "../../parts/Caution";
import { LargeDialog } from "../../parts/Dialog";
import { Loading, Trouble } from "../../parts/Feedback";
import { State } from "../../parts/Mark";
import { nextLine, useTicks } from "../../parts/useTicks";
import { ValueGroups } from "../../parts/Values";
import { Tests } from "./Tests";
import { useLink } from "./useLink";
import { STATES } from "./words";

/** Both ends of one link: the values to type at each, and below them what proves it. */
export function Tie({ id, close }: { id: number; close: () => void }) {
  const link = useLink(id);
  const ticks = useTicks(["link", String(id)]);
  const card = link.data;
  const groups = card?.groups ?? [];
  const mine = groups.filter((group) => group.key);
  const next = nextLine(mine);
  const subjectOf = (key: string) =>
    mine.find((group) => group.lines.some((line) => line.key === key))?.key ?? "";
  return (
    <LargeDialog title={card ? card.said : "Link"} close={close} wide>
      {link.isPending && <Loading what="the link" />}
      {link.error && <Trouble error={link.error} retry={() => link.refetch()} />}
      {card && (
        <div className="mt-2 grid gap-4">
          <p className="flex flex-wrap gap-x-4 text-ink-2">
            <State name={STATES[card.state].mark}>{STATES[card.state].word}</State>
            {card.reason && <span>{card.reason}.</span>}
          </p>
          {card.caution && <Caution>{card.caution}</Caution>}
          {ticks.error && <Trouble error={ticks.error} />}
          <ValueGroups
            groups={mine}
            current={next}
            keys={false}
            toggle={(line) => ticks.toggle(subjectOf(line.key), line)}
            all={(group) => ticks.all(group.key, group)}
          />
          {groups
            .filter((group) => !group.key)
            .map((group) => (
              <section key={group.title} aria-label={group.title} className="border-t border-hair pt-2">
                <h3 className="font-semibold">{group.title}</h3>
                <p className="text-small text-ink-2">Tell them; nothing is typed here.</p>
                <dl className="text-list">
                  {group.lines.map((line) => (
                    <div key={line.key} className="flex flex-wrap gap-x-4 py-1">
                      <dt className="w-64 text-ink-2">{line.label}</dt>
                      <dd className="font-mono [overflow-wrap:anywhere]">{line.value}</dd>
                    </div>
                  ))}
                </dl>
              </section>
            ))}
          <Tests card={card} />
        </div>
      )}
    </LargeDialog>
  );
}

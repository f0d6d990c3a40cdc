import { lazy, Suspense, useState } from "react";
import { useSearchParams } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSheet } from "../../api/site";
import { Empty, Loading, Trouble } from "../../parts/Feedback";
import { type Keys, useKeys } from "../../parts/keys";
import { NextBar } from "../../parts/NextBar";
import { Page } from "../../parts/Page";
import { StageNext } from "../../parts/StageNext";
import { useDeviceChange } from "../../parts/useDeviceChange";
import { LETTERS } from "./cells";
import { Networks } from "./Networks";

type AddressSheet = Schemas["Addresses"];
type Problem = Schemas["ProblemRow"];
const FieldTable = lazy(() => import("./FieldTable").then((part) => ({ default: part.FieldTable })));
const Rules = lazy(() => import("./Rules").then((part) => ({ default: part.Rules })));
const Renumber = lazy(() => import("./Renumber").then((part) => ({ default: part.Renumber })));

/** Which address everything has, and why. */
export function Addresses() {
  const sheet = useSheet("addresses");
  const [search, setSearch] = useSearchParams();
  const change = useDeviceChange();
  const [looking, setLooking] = useState<Problem | null>(null);
  const plan = useChange((key, revision: number) =>
    ask(client.POST("/api/sites/{key}/plan", { params: { path: { key } }, body: { revision } })),
  );
  const fixes = fixable(sheet.data);
  const apply = (problem: Problem) => {
    const { device, address } = problem.move ?? { device: "", address: "" };
    const now = sheet.data?.networks
      .flatMap((network) => network.devices)
      .find((item) => item.key === device);
    setLooking(null);
    if (now) change.mutate({ device, revision: now.revision, address, locked: false });
  };
  const keys: Keys = Object.fromEntries(
    fixes.map((problem, at) => [LETTERS[at]?.toLowerCase() ?? "", () => setLooking(problem)]),
  );
  useKeys({ ...keys, Escape: looking ? () => setLooking(null) : undefined });
  const open = search.get("open");
  const renumbered = sheet.data?.networks.find((network) => network.key === open?.replace(/^renumber /, ""));
  return (
    <>
      <Page
        title="Addresses"
        fetched={sheet}
        aside={
          sheet.data && sheet.data.networks.length > 0 ? (
            <span className="flex flex-wrap gap-2 md:ml-auto">
              <button
                type="button"
                className="btn"
                onClick={() => setSearch({ open: "rules" }, { replace: true })}
              >
                Rules of the plan
              </button>
              <button
                type="button"
                className="btn"
                onClick={() => setSearch({ open: "table" }, { replace: true })}
              >
                Compare with a router’s table
              </button>
            </span>
          ) : undefined
        }
      >
        {(data) =>
          data.networks.length === 0 ? (
            <Empty title="No network yet">The survey says which network the devices may live on.</Empty>
          ) : (
            <>
              {plan.error && <Trouble error={plan.error} />}
              <Networks
                data={data}
                fixes={fixes}
                looking={looking}
                look={setLooking}
                apply={apply}
                change={change}
              />
              <Suspense fallback={<Loading what="the slip" />}>
                {open === "table" && <FieldTable close={() => setSearch({}, { replace: true })} />}
                {open === "rules" && <Rules close={() => setSearch({}, { replace: true })} />}
                {open?.startsWith("renumber ") && renumbered && (
                  <Renumber network={renumbered} close={() => setSearch({}, { replace: true })} />
                )}
              </Suspense>
            </>
          )
        }
      </Page>
      {sheet.data && (
        <AddressNext
          fixes={fixes}
          looking={looking}
          look={setLooking}
          busy={plan.isPending || change.isPending}
          plan={() => plan.mutate(sheet.data.revision)}
          apply={apply}
        />
      )}
    </>
  );
}

function fixable(data: AddressSheet | undefined): Problem[] {
  return (data?.problems ?? []).filter((problem) => problem.move).slice(0, LETTERS.length);
}

function AddressNext({
  fixes,
  looking,
  look,
  plan,
  apply,
  busy,
}: {
  fixes: Problem[];
  looking: Problem | null;
  look: (problem: Problem | null) => void;
  plan: () => void;
  apply: (problem: Problem) => void;
  busy: boolean;
}) {
  const words = (problem: Problem) => problem.fix?.replace(/\.$/, "") ?? "";
  if (looking?.move)
    return (
      <NextBar
        sentence={`${words(looking)}?`}
        detail="What it entails stands beside the problem."
        go={{ label: "Do it", key: " ", run: () => apply(looking), disabled: busy }}
        others={[{ label: "Leave it", key: "Escape", run: () => look(null) }]}
      />
    );
  return (
    <StageNext
      stage="addresses"
      acts={({ act, subjects }) => {
        if (act === "plan")
          return {
            label: subjects[1] ? `Set the ${subjects[1]} that fit` : "Set the plan",
            run: plan,
            disabled: busy,
          };
        const [first] = fixes;
        if (act === "mend" && first)
          return { label: "Show what it entails", run: () => look(first), disabled: busy };
      }}
    />
  );
}

import { lazy, Suspense, useState } from "react";
import { useSearchParams } from "react-router";
import { useFrame, useSheet } from "../../api/site";
import { Empty, Loading, Trouble } from "../../parts/Feedback";
import { Forms } from "../../parts/Files";
import { hasAll, wordsOf } from "../../parts/filter";
import { useKeys } from "../../parts/keys";
import { Page, Problems } from "../../parts/Page";
import { StageNext } from "../../parts/StageNext";
import { useWidth } from "../../parts/useWidth";
import { inUnits, type Sheet, VIEWS } from "./columns";
import { KitParts } from "./KitParts";
import { NewDevice } from "./NewDevice";
import { Selection } from "./Selection";
import { Table } from "./Table";
import { useEdits } from "./useEdits";

const DeliveryNote = lazy(() => import("./DeliveryNote").then((part) => ({ default: part.DeliveryNote })));
const Labels = lazy(() => import("./Labels").then((part) => ({ default: part.Labels })));
const SiteModel = lazy(() => import("./SiteModel").then((part) => ({ default: part.SiteModel })));

const Loads = lazy(() => import("../loads/Loads").then((part) => ({ default: part.Loads })));

/** The kit: its devices, and whether all of it fits together. */
export function Kit() {
  const part = useSearchParams()[0].get("part");
  if (part !== "loads" && part !== "ports") return <Devices />;
  return (
    <Suspense fallback={<Loading what="the loads" />}>
      <Loads part={part} />
    </Suspense>
  );
}

/** What is in the boxes: a sheet to type into, a delivery note to bring in, labels to read. */
function Devices() {
  const sheet = useSheet("kit");
  const [search, setSearch] = useSearchParams();
  const open = search.get("open");
  const show = (what: Record<string, string>) => setSearch(what, { replace: true });
  const close = () => show({});
  return (
    <>
      <Page title="Kit" fetched={sheet} aside={sheet.data && <Tools show={show} data={sheet.data} />}>
        {(data) => (
          <>
            <Boxes data={data} startAt={search.get("device")} show={show} />
            <Suspense fallback={<Loading what="the slip" />}>
              {open === "note" && <DeliveryNote sheet={data} close={close} />}
              {open === "labels" && <Labels sheet={data} close={close} startAt={search.get("device")} />}
              {search.get("model") && <SiteModel model={search.get("model") ?? ""} close={close} />}
            </Suspense>
          </>
        )}
      </Page>
      {sheet.data && (
        <StageNext
          stage="kit"
          acts={({ act }) =>
            act === "note"
              ? { label: "Import a delivery note", run: () => show({ open: "note" }) }
              : act === "labels"
                ? { label: "Read labels", run: () => show({ open: "labels" }) }
                : act === "loads"
                  ? { label: "Look at what fits", run: () => show({ part: "loads" }) }
                  : undefined
          }
        />
      )}
    </>
  );
}

function Tools({ show, data }: { show: (what: Record<string, string>) => void; data: Sheet }) {
  const used = data.devices.filter((device) => device.used).length;
  return (
    <div className="flex min-w-0 flex-1 flex-wrap items-center gap-x-5 gap-y-2">
      <KitParts part="devices" />
      <p className="text-ink-2">
        {data.devices.length} {data.devices.length === 1 ? "device" : "devices"}
        {used > 0 && `, ${used} bought used`}
      </p>
      <span className="flex flex-wrap gap-2 md:ml-auto">
        <button type="button" className="btn" onClick={() => show({ open: "note" })}>
          Import a delivery note
        </button>
        <button
          type="button"
          className="btn"
          onClick={() => show({ open: "labels" })}
          disabled={data.devices.length === 0}
        >
          Read labels
        </button>
        {data.devices.length > 0 && (
          <span className="flex min-h-11 items-center gap-2 text-small">
            Print labels:
            <Forms name="labels" title="Labels" endings={["pdf", "svg"]} />
          </span>
        )}
      </span>
    </div>
  );
}

function Boxes({
  data,
  startAt,
  show,
}: {
  data: Sheet;
  startAt: string | null;
  show: (what: Record<string, string>) => void;
}) {
  const [chosen, choose] = useState<Set<string>>(new Set());
  const [only, setOnly] = useState("");
  const edits = useEdits();
  const wide = useWidth() >= 900;
  const [view, setView] = useState<keyof typeof VIEWS>("labels");
  const columns = inUnits(VIEWS[view][wide ? "wide" : "phone"], useFrame().data?.units ?? "metric");
  useKeys({ "mod+z": edits.undo });
  const words = wordsOf(only);
  const labels = new Map(data.models.map((model) => [model.key, model.label]));
  const devices = data.devices.filter((device) => {
    const text = [device.key, device.name, device.place, labels.get(device.model), device.mac, device.serial];
    return hasAll(words, text.join(" "));
  });
  const picked = data.devices.filter((device) => chosen.has(device.key));
  return (
    <>
      <Problems problems={data.problems} />
      {edits.error && (
        <div className="mt-2">
          <Trouble error={edits.error} />
        </div>
      )}
      {data.devices.length === 0 ? (
        <Empty title="The kit is empty">
          A delivery note as CSV or XLSX brings all devices at once; labels are read afterwards.
        </Empty>
      ) : (
        <>
          <div className="flex min-h-16 flex-wrap items-center gap-3 pt-2">
            {picked.length > 0 ? (
              <Selection
                sheet={data}
                picked={picked}
                apply={edits.apply}
                nameBy={edits.nameBy}
                remove={edits.remove}
                clear={() => choose(new Set())}
                show={show}
              />
            ) : (
              <>
                <label className="flex items-center gap-2 text-small">
                  Show only
                  <input
                    type="search"
                    className="box w-56"
                    value={only}
                    onChange={(event) => setOnly(event.target.value)}
                  />
                </label>
                <label className="flex items-center gap-2 text-small">
                  Columns
                  <select
                    className="box"
                    value={view}
                    onChange={(event) => setView(event.target.value as keyof typeof VIEWS)}
                  >
                    {Object.entries(VIEWS).map(([name, { word }]) => (
                      <option key={name} value={name}>
                        {word}
                      </option>
                    ))}
                  </select>
                </label>
              </>
            )}
            {edits.canUndo && (
              <button type="button" className="btn ml-auto" onClick={edits.undo}>
                <kbd className="key max-md:hidden">Ctrl Z</kbd> Take back
                <span className="max-w-56 truncate font-normal text-ink-2">{edits.canUndo}</span>
              </button>
            )}
          </div>
          <Table
            key={view}
            sheet={data}
            devices={devices}
            columns={columns}
            chosen={chosen}
            choose={choose}
            apply={edits.apply}
            wide={wide}
            startAt={startAt}
            paste={(text) => {
              sessionStorage.setItem("tutelar.pasted", text);
              show({ open: "note" });
            }}
          />
        </>
      )}
      <NewDevice data={data} />
    </>
  );
}

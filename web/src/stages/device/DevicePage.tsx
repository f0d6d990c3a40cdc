import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { useFrame, useSiteKey } from "../../api/site";
import { ClockLook } from "../../parts/ClockLook";
import { EventList } from "../../parts/EventList";
import { Trouble } from "../../parts/Feedback";
import { useLeaving } from "../../parts/LeaveSlot";
import { Mark, type MarkName, State } from "../../parts/Mark";
import { NextBar } from "../../parts/NextBar";
import { Page } from "../../parts/Page";
import { Tellings } from "../../parts/Tellings";
import { length } from "../../parts/units";
import { nextLine, useTicks } from "../../parts/useTicks";
import { ValueGroups } from "../../parts/Values";
import { lower } from "../../parts/words";
import { CardOfDevice } from "../cards/CardOfDevice";
import { Connection } from "./Connection";
import { PortForm } from "./PortForm";
import { Slots } from "./Slots";

type Sheet = Schemas["DevicePage"];
const STATES: Record<string, MarkName> = { set: "set", proven: "proven", broken: "broken" };

/** Everything known about one device: its values, passwords, clock, ports, links, history, label. */
export function DevicePage() {
  const key = useSiteKey();
  const device = useParams().device ?? "";
  const sheet = useQuery({
    queryKey: ["site", key, "device", device],
    queryFn: () =>
      ask(client.GET("/api/sites/{key}/devices/{device}/page", { params: { path: { key, device } } })),
  });
  const ticks = useTicks(["device", device]);
  const groups = sheet.data?.groups ?? [];
  const next = nextLine(groups);
  const leaving = useLeaving(next);
  const open = groups.flatMap((group) => group.lines).filter((line) => !line.ticked).length;
  return (
    <>
      <Page
        title={sheet.data?.name ?? "Device"}
        fetched={sheet}
        aside={
          sheet.data && (
            <>
              <State name={STATES[sheet.data.state] ?? "planned"}>{sheet.data.state}</State>
              <Link
                className="ml-auto inline-flex min-h-11 items-center text-small"
                to={`/sites/${key}/faults?device=${device}`}
              >
                Something is wrong with it
              </Link>
              <Link
                className="inline-flex min-h-11 items-center text-small"
                to={`/sites/${key}/faults?to=${device}`}
              >
                Can it be reached?
              </Link>
              <Link
                className="inline-flex min-h-11 items-center text-small"
                to={`/sites/${key}/later?device=${device}`}
              >
                Replace or retire it
              </Link>
              <a
                className="text-small"
                href={`/api/sites/${key}/files/labels.pdf?devices=${device}`}
                download
              >
                Its label (PDF)
              </a>
            </>
          )
        }
      >
        {(data) => (
          <div className="grid gap-x-8 gap-y-6 pt-2 xl:grid-cols-[minmax(0,1fr)_22rem]">
            <div className="min-w-0">
              {ticks.error && <Trouble error={ticks.error} />}
              <Tellings tellings={data.tellings} />
              <section aria-label="What is typed into it">
                <h2 className="sr-only">What is typed into it</h2>
                <ValueGroups
                  groups={groups}
                  toggle={(line) => ticks.toggle(device, line)}
                  all={(group) => ticks.all(device, group)}
                />
              </section>
              <History events={data.events} />
            </div>
            <aside className="grid content-start gap-6" aria-label="About this device">
              <Facts data={data} />
              <CardOfDevice key={device} device={device} />
              <Connection key={data.revision} data={data} />
              {data.has_clock && <ClockPart data={data} />}
              <Slots data={data} />
              {data.ports.length > 0 && <PortForm data={data} />}
              <Links data={data} />
            </aside>
          </div>
        )}
      </Page>
      {leaving.dialog}
      {sheet.data && (
        <NextBar
          sentence={next ? `Next: ${lower(next.label)}.` : "Every value is typed."}
          detail={next ? `${open} are open.` : ""}
          go={
            leaving.act ?? {
              label: next ? "Typed" : "Nothing open",
              key: " ",
              run: () => ticks.next(device, next?.key ?? ""),
              disabled: !next,
            }
          }
        />
      )}
    </>
  );
}

function Facts({ data }: { data: Sheet }) {
  const site = useSiteKey();
  const units = useFrame().data?.units ?? "metric";
  const facts: [string, string | null, boolean?][] = [
    ["Sticker", data.key, true],
    ["Model", data.model],
    ["Place", data.place],
    ["Network", data.network],
    ["Address", data.address ?? (data.addressing === "leased" ? "leased" : null), true],
    ["Hardware address", data.mac, true],
    ...(data.wifi_mac ? [["On Wi-Fi", data.wifi_mac, true] as [string, string, boolean]] : []),
    ["Serial", data.serial, true],
    ["Powered by", data.powered_by],
    ["Cable", data.cable_m === null ? null : length(data.cable_m, units)],
  ];
  return (
    <section className="slip" aria-label="Facts">
      <dl className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-4 gap-y-0.5 text-small">
        {facts.map(([label, value, mono]) => (
          <div key={label} className="contents">
            <dt className="text-ink-2">{label}</dt>
            <dd className={`break-words ${mono ? "font-mono" : ""}`}>{value ?? "not known yet"}</dd>
          </div>
        ))}
      </dl>
      {data.locked && (
        <p className="flex items-center gap-2 pt-2 text-small">
          <Mark name="lock" /> Its address is locked.
        </p>
      )}
      {data.used_steps.map((step) => (
        <p key={step} className="flex items-start gap-2 pt-2 text-small">
          <Mark name="off" word="bought used" /> {step}
        </p>
      ))}
      {data.address && (
        <p className="pt-2 text-small">
          <Link to={`/sites/${site}/addresses?net=${data.ground ?? ""}&device=${data.key}`}>
            On its address sheet
          </Link>
        </p>
      )}
    </section>
  );
}

function ClockPart({ data }: { data: Sheet }) {
  return (
    <section aria-label="Its clock">
      <h2 className="border-b border-hair pb-1 font-semibold">Its clock</h2>
      <p className="py-2 text-small text-ink-2">{data.clock ?? "Nobody looked at it yet."}</p>
      <ClockLook
        device={data.key}
        name={data.name}
        order={data.date_order}
        zone={data.time_zone}
        face={data.clock_face}
      />
    </section>
  );
}

function Links({ data }: { data: Sheet }) {
  const site = useSiteKey();
  if (data.links.length === 0) return null;
  return (
    <section aria-label="Its links">
      <h2 className="border-b border-hair pb-1 font-semibold">Linked to {data.links.length}</h2>
      <ul className="max-h-64 overflow-auto text-small" tabIndex={-1}>
        {data.links.map((link) => (
          <li
            key={`${link.kind} ${link.other} ${link.outgoing} ${link.slot}`}
            className="flex gap-3 border-b border-hair py-1"
          >
            <span className="w-24 shrink-0 text-ink-2">{link.kind.replace("-", " ")}</span>
            <Link to={`/sites/${site}/devices/${link.other}`} className="min-w-0 flex-1 truncate">
              {link.outgoing ? "→ " : "← "}
              {link.name}
            </Link>
            <span className="text-ink-2">{link.slot}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function History({ events }: { events: Sheet["events"] }) {
  const site = useSiteKey();
  const device = useParams().device ?? "";
  return (
    <section aria-label="Its history" className="mt-6">
      <h2 className="border-b border-hair pb-1 font-semibold">What was changed, when, by whom</h2>
      {events.length === 0 && <p className="py-2 text-small text-ink-2">Nothing yet.</p>}
      <Link
        to={`/sites/${site}/log?device=${device}`}
        className="inline-flex min-h-11 items-center text-small"
      >
        Write a note, a reading or a photograph into its logbook
      </Link>
      <EventList events={events} />
    </section>
  );
}

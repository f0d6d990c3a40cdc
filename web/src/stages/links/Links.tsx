import { type FormEvent, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSheet, useSiteKey } from "../../api/site";
import { DeviceLink } from "../../parts/DeviceLink";
import { Legend, type LegendEntry } from "../../parts/Legend";
import { State } from "../../parts/Mark";
import { NextBar } from "../../parts/NextBar";
import { Empty, Trouble } from "../../parts/Notes";
import { Page, Problems } from "../../parts/Page";
import { LoomView, THREAD_MARKS, THREAD_WORDS } from "./LoomView";
import { channelChoices, loomOf } from "./loom";

type Sheet = Schemas["Links"];
type Beam = Schemas["Beam"];
type Thread = Schemas["Thread"];

/** Which camera goes to which recorder channel, and the other links. */
export function Links() {
  const sheet = useSheet("links");
  const navigate = useNavigate();
  const site = useSiteKey();
  const [search, setSearch] = useSearchParams();
  const selected = Number(search.get("link")) || null;
  const untied = sheet.data?.untied ?? [];
  const select = (id: number) => setSearch({ link: String(id) }, { replace: true });
  return (
    <>
      <Page
        title="Links"
        fetched={sheet}
        aside={sheet.data && <Legend label="What the threads show" entries={legendOf(sheet.data.beams)} />}
      >
        {(data) => (
          <div className="flex flex-col gap-6 xl:flex-row">
            <div className="min-w-0 flex-1">
              {data.beams.length === 0 ? (
                <Empty title="No recorder yet">
                  Cameras are tied to a recorder's channels; the kit holds none.
                </Empty>
              ) : (
                <LoomView loom={loomOf(data.beams, data.places)} selected={selected} select={select} />
              )}
              <Problems problems={data.problems} />
              <Others others={data.others} />
            </div>
            <LinkSlip key={selected} data={data} selected={selected} />
          </div>
        )}
      </Page>
      {sheet.data &&
        (untied[0] ? (
          <NextBar
            sentence={`Tie ${untied[0].name} to a recorder.`}
            detail={`${untied.length} not tied yet. Choose the channel on the slip.`}
          />
        ) : (
          <NextBar
            sentence="Every camera has its channel."
            detail="Now measure the site."
            go={{ label: "Go to the proof", key: " ", run: () => navigate(`/sites/${site}/proof`) }}
          />
        ))}
    </>
  );
}

function legendOf(beams: Beam[]): LegendEntry[] {
  const threads = beams.flatMap((beam) => beam.threads);
  return Object.entries(THREAD_WORDS).map(([state, word]) => [
    THREAD_MARKS[state] ?? "planned",
    word,
    threads.filter((thread) => thread.state === state).length,
  ]);
}

function LinkSlip({ data, selected }: { data: Sheet; selected: number | null }) {
  const beam = data.beams.find((item) => item.threads.some((thread) => thread.id === selected));
  const thread = beam?.threads.find((item) => item.id === selected);
  const first = data.untied[0];
  return (
    <aside aria-label="Selected link" className="slip w-full self-start xl:w-82 xl:shrink-0">
      {thread && beam ? (
        <ThreadSlip data={data} beam={beam} thread={thread} />
      ) : first ? (
        <>
          <h2 className="text-lead font-semibold">{first.name}</h2>
          <p className="text-ink-2">{first.place ?? "No place"}, not tied yet</p>
          <ChannelForm data={data} camera={first.key} beam={data.beams[0]} thread={null} />
        </>
      ) : (
        <p className="text-ink-2">Choose a camera to see its channel and to change it.</p>
      )}
    </aside>
  );
}

function ThreadSlip({ data, beam, thread }: { data: Sheet; beam: Beam; thread: Thread }) {
  return (
    <>
      <div className="flex items-start justify-between gap-3">
        <h2 className="text-lead font-semibold">
          <DeviceLink device={thread.start}>{thread.start_name}</DeviceLink>
        </h2>
        <State name={THREAD_MARKS[thread.state] ?? "planned"}>{THREAD_WORDS[thread.state]}</State>
      </div>
      <p className="text-ink-2">
        {thread.place ?? "No place"}
        {thread.from_channel ? `, its channel ${thread.from_channel}` : ""}
      </p>
      <p className="mt-3">
        <span className="font-mono text-step font-bold">{thread.slot ?? "–"}</span>{" "}
        <span className="text-ink-2">
          {thread.slot === null ? "no channel of" : "channel of"} {beam.name}
        </span>
      </p>
      {thread.mbps > 0 && (
        <p className="text-small text-ink-2">
          Brings {thread.mbps.toFixed(1)} Mbit/s; {beam.name} takes {beam.wanted_mbps} of{" "}
          {beam.incoming_mbps ?? "an unknown number of"} Mbit/s.
        </p>
      )}
      {thread.reason && <p className="mt-2 border-l-4 border-brass-fill pl-3">{thread.reason}</p>}
      <ChannelForm data={data} camera={thread.start} beam={beam} thread={thread} />
    </>
  );
}

/** Choose a recorder and one of its channels; taken ones say by whom. */
function ChannelForm({
  data,
  camera,
  beam,
  thread,
}: {
  data: Sheet;
  camera: string;
  beam: Beam | undefined;
  thread: Thread | null;
}) {
  const [target, setTarget] = useState(beam?.key ?? "");
  const chosen = data.beams.find((item) => item.key === target);
  const choices = chosen ? channelChoices(chosen) : [];
  const free = choices.find((choice) => !choice.holder)?.channel;
  const [slot, setSlot] = useState(thread?.slot ?? free ?? 0);
  const move = useChange((key, body: Schemas["LinkChange"]) =>
    ask(
      client.PATCH("/api/sites/{key}/links/{number}", {
        params: { path: { key, number: thread?.id ?? 0 } },
        body,
      }),
    ),
  );
  const add = useChange((key, body: Schemas["NewLink"]) =>
    ask(client.POST("/api/sites/{key}/links", { params: { path: { key } }, body })),
  );
  if (!chosen) return null;
  const same = thread?.slot === slot && beam?.key === target;

  function submit(event: FormEvent) {
    event.preventDefault();
    if (thread) move.mutate({ revision: thread.revision, to: target, slot });
    else add.mutate({ kind: "records", start: camera, to: target, slot });
  }
  return (
    <form onSubmit={submit} className="mt-4 grid grid-cols-[minmax(0,1fr)] gap-3 border-t border-hair pt-3">
      <label className="grid min-w-0 gap-1 text-small font-semibold">
        Recorder
        <select
          className="box w-full min-w-0 font-normal"
          value={target}
          onChange={(event) => {
            setTarget(event.target.value);
            const next = data.beams.find((item) => item.key === event.target.value);
            setSlot((next && channelChoices(next).find((choice) => !choice.holder)?.channel) ?? 0);
          }}
        >
          {data.beams.map((item) => (
            <option key={item.key} value={item.key}>
              {item.name}
            </option>
          ))}
        </select>
      </label>
      <label className="grid min-w-0 gap-1 text-small font-semibold">
        Channel
        <select
          className="box w-full min-w-0 font-mono font-normal"
          value={slot}
          onChange={(event) => setSlot(Number(event.target.value))}
        >
          {choices.map(({ channel, holder }) => (
            <option key={channel} value={channel} disabled={holder !== null && holder.id !== thread?.id}>
              {channel}
              {holder && holder.id !== thread?.id ? ` (${holder.start_name})` : ""}
            </option>
          ))}
        </select>
      </label>
      {(move.error ?? add.error) && <Trouble error={(move.error ?? add.error) as Error} />}
      <button
        type="submit"
        className="btn btn-main justify-self-start"
        disabled={same || slot === 0 || move.isPending || add.isPending}
      >
        {thread ? "Change the channel" : "Tie it"}
      </button>
    </form>
  );
}

function Others({ others }: { others: Sheet["others"] }) {
  if (others.length === 0) return null;
  return (
    <section className="mt-6">
      <h2 className="text-lead font-semibold">Other links</h2>
      <table className="mt-2 w-full text-list">
        <thead>
          <tr className="border-b-2 border-ink text-left text-small">
            <th scope="col">From</th>
            <th scope="col">Link</th>
            <th scope="col">To</th>
            <th scope="col">Number</th>
          </tr>
        </thead>
        <tbody>
          {others.map((link) => (
            <tr key={`${link.kind} ${link.start} ${link.end}`} className="h-9 border-b border-hair">
              <td>{link.start}</td>
              <td className="text-ink-2">{link.kind.replace("-", " ")}</td>
              <td>{link.end}</td>
              <td className="font-mono">{link.slot ?? "–"}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

import { type FormEvent, type ReactNode, useState } from "react";
import { useNavigate } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { useChange, useSheet, useSiteKey } from "../../api/site";
import { State } from "../../parts/Mark";
import { NextBar } from "../../parts/NextBar";
import { Trouble } from "../../parts/Notes";
import { Page } from "../../parts/Page";
import { type Draft, internetPart, lines, networkPart, ranges, sitePart, text } from "./drafts";

type Sheet = Schemas["Survey"];
type Change = Omit<Schemas["SurveyChange"], "revision">;

/** What was asked of the customer's IT person, and what follows from the answers. */
export function Survey() {
  const sheet = useSheet("survey");
  const navigate = useNavigate();
  const site = useSiteKey();
  const missing = sheet.data?.unanswered ?? [];
  return (
    <>
      <Page title="Survey" fetched={sheet}>
        {(data) => <Questions key={data.revision} data={data} />}
      </Page>
      {sheet.data && (
        <NextBar
          sentence={
            missing[0] ? `Ask for ${missing[0].words.replace(/^which /, "")}.` : "Every question is answered."
          }
          detail={
            missing.length > 1 ? `${missing.length} answers are open.` : missing[0] ? "" : "The kit is next."
          }
          go={{ label: "Go to the kit", key: " ", run: () => navigate(`/sites/${site}/kit`) }}
        />
      )}
    </>
  );
}

function Questions({ data }: { data: Sheet }) {
  return (
    <div className="mt-2">
      <Question
        margin="Site"
        title="What do people call this site, and where does one walk?"
        data={data}
        about="site"
      >
        <Field name="name" label="Name" value={text(data.site.name)} wide />
        <Field
          name="places"
          label="Places in walking order, a line each"
          value={lines(data.site.places)}
          area
        />
        <Field name="time_zone" label="Time zone" value={text(data.site.time_zone)} mono />
        <Choice
          name="date_order"
          label="Date order"
          value={text(data.site.date_order)}
          options={["DMY", "MDY", "YMD"]}
        />
        <Choice name="clock" label="Clock" value={text(data.site.clock)} options={["24h", "12h"]} />
        <Choice name="mains_hz" label="Mains" value={text(data.site.mains_hz)} options={["", "50", "60"]} />
        <Save build={(draft) => ({ site: { ...data.site, ...sitePart(draft) } })} />
      </Question>
      {data.networks.map((network, at) => (
        <Question
          key={String(network.key)}
          margin={text(network.name) || text(network.key)}
          title="Which addresses may our devices have here?"
          data={data}
          about={text(network.key)}
        >
          <Field name="cidr" label="Range" value={text(network.cidr)} mono />
          <Field name="gateway" label="Gateway" value={text(network.gateway)} mono />
          <Field name="dns" label="DNS servers" value={lines(network.dns, ", ")} mono />
          <Field name="time_source" label="Time source" value={text(network.time_source)} mono />
          <Field name="vlan" label="VLAN" value={text(network.vlan)} mono />
          <Field name="pools" label="Lease pools, first–last" value={ranges(network.pools)} mono area />
          <Field
            name="reserved"
            label="Kept by IT, first–last why"
            value={ranges(network.reserved)}
            mono
            area
          />
          <Save
            build={(draft) => ({
              networks: data.networks.map((item, index) =>
                index === at ? { ...item, ...networkPart(draft) } : item,
              ),
            })}
          />
        </Question>
      ))}
      <NewNetwork data={data} />
      <Question margin="Outside" title="How does this site reach the internet?" data={data} about="internet">
        <Field
          name="outside_address"
          label="Outside address"
          value={text(data.internet?.outside_address)}
          mono
        />
        <Field
          name="upstream_mbps"
          label="Upstream, Mbit/s"
          value={text(data.internet?.upstream_mbps)}
          mono
        />
        <Field
          name="router_ports"
          label="Router's own ports"
          value={lines(data.internet?.router_ports, ", ")}
          mono
        />
        <Field
          name="blocked_ports"
          label="Blocked ports"
          value={lines(data.internet?.blocked_ports, ", ")}
          mono
        />
        <Save build={(draft) => ({ internet: { ...data.internet, ...internetPart(draft) } })} />
      </Question>
    </div>
  );
}

function Question({
  margin,
  title,
  data,
  about,
  children,
}: {
  margin: string;
  title: string;
  data: Sheet;
  about?: string;
  children: ReactNode;
}) {
  const change = useChange((key, body: Schemas["SurveyChange"]) =>
    ask(client.PATCH("/api/sites/{key}/survey", { params: { path: { key } }, body })),
  );
  const [problem, setProblem] = useState<Error | null>(null);
  const [touched, setTouched] = useState(false);
  const open = data.unanswered.some((item) => item.about === about);
  const follows = about ? data.problems.filter((item) => item.subjects.includes(about)) : [];

  function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const draft: Draft = Object.fromEntries(
      [...new FormData(event.currentTarget)].map(([name, value]) => [name, String(value)]),
    );
    const build = builders.get(event.currentTarget);
    setProblem(null);
    try {
      if (build)
        change.mutate({ revision: data.revision, ...build(draft) }, { onSuccess: () => setTouched(false) });
    } catch (error) {
      setProblem(error as Error);
    }
  }
  const trouble = problem ?? change.error;
  return (
    <form
      onSubmit={submit}
      onChange={() => setTouched(true)}
      className="border-t border-hair py-4 md:flex"
      noValidate
    >
      <p className="w-28 shrink-0 pr-3 font-semibold break-words">{margin}</p>
      <div className="min-w-0 flex-1">
        <h2 className="text-lead font-semibold">{title}</h2>
        <div className="mt-2 flex flex-wrap items-end gap-3" data-touched={touched}>
          {children}
        </div>
        {trouble && (
          <div className="mt-3">
            <Trouble error={trouble} />
          </div>
        )}
      </div>
      <div className="text-small md:w-72 md:shrink-0 md:border-l md:border-hair md:pl-5">
        {touched ? (
          <State name="turn">not saved yet</State>
        ) : open ? (
          <State name="loose">not all asked yet</State>
        ) : (
          <State name="set">told</State>
        )}
        <ul className="mt-1 grid gap-2">
          {follows.map((item) => (
            <li key={item.message} className="border-l-4 border-brass-fill pl-2">
              {item.message} <span className="text-ink-2">{item.fix}</span>
            </li>
          ))}
        </ul>
      </div>
    </form>
  );
}

const builders = new WeakMap<HTMLFormElement, (draft: Draft) => Change>();

/** Saves the answers of its question; `build` turns what was typed into the change. */
function Save({ build }: { build: (draft: Draft) => Change }) {
  return (
    <button
      type="submit"
      className="btn"
      ref={(button) => {
        if (button?.form) builders.set(button.form, build);
      }}
    >
      Save
    </button>
  );
}

function Field({
  name,
  label,
  value,
  mono = false,
  wide = false,
  area = false,
}: {
  name: string;
  label: string;
  value: string;
  mono?: boolean;
  wide?: boolean;
  area?: boolean;
}) {
  const look = `box w-full min-w-0 py-2 text-ink ${mono ? "font-mono text-list" : ""}`;
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: one of the two controls below is inside it
    <label className={`grid gap-1 text-small text-ink-2 ${wide || area ? "w-full max-w-md" : "w-44"}`}>
      {label}
      {area ? (
        <textarea
          name={name}
          defaultValue={value}
          rows={Math.max(2, value.split("\n").length)}
          className={look}
        />
      ) : (
        <input name={name} defaultValue={value} autoComplete="off" className={look} />
      )}
    </label>
  );
}

function Choice({
  name,
  label,
  value,
  options,
}: {
  name: string;
  label: string;
  value: string;
  options: string[];
}) {
  return (
    <label className="grid gap-1 text-small text-ink-2">
      {label}
      <select name={name} defaultValue={value} className="box text-ink">
        {options.map((option) => (
          <option key={option} value={option}>
            {option || "not asked yet"}
          </option>
        ))}
      </select>
    </label>
  );
}

function NewNetwork({ data }: { data: Sheet }) {
  return (
    <Question margin="Another" title="Is there another network for our devices?" data={data}>
      <Field name="key" label="Key, e.g. cameras" value="" mono />
      <Field name="name" label="Name" value="" />
      <Field name="cidr" label="Range, e.g. 10.62.8.0/24" value="" mono />
      <Save
        build={(draft) => {
          if (!draft.key?.trim() || !draft.cidr?.trim())
            throw new Error("A network needs a key and a range like 10.62.8.0/24.");
          const fresh = { key: draft.key.trim(), name: draft.name?.trim() || null, cidr: draft.cidr.trim() };
          return { networks: [...data.networks, fresh] };
        }}
      />
    </Question>
  );
}

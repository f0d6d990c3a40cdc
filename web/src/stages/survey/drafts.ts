/** What stands in a question's fields, by name, as typed. */
export type Draft = Record<string, string>;
type Part = Record<string, unknown>;

export function text(value: unknown): string {
  return value === null || value === undefined ? "" : String(value);
}

export function lines(value: unknown, between = "\n"): string {
  return Array.isArray(value) ? value.join(between) : "";
}

/** Ranges a line each: "10.62.8.150–10.62.8.199 why". */
export function ranges(value: unknown): string {
  if (!Array.isArray(value)) return "";
  return value.map((item: Part) => `${item.first}–${item.last}${item.why ? ` ${item.why}` : ""}`).join("\n");
}

function words(typed: string | undefined, split: RegExp): string[] {
  return (typed ?? "")
    .split(split)
    .map((item) => item.trim())
    .filter(Boolean);
}

function numberOr(typed: string | undefined, what: string): number | null {
  const trimmed = typed?.trim() ?? "";
  if (trimmed === "") return null;
  const value = Number(trimmed.replace(",", "."));
  if (!Number.isFinite(value)) throw new Error(`${what}: '${trimmed}' is not a number.`);
  return value;
}

function readRanges(typed: string | undefined, what: string, withWhy: boolean): Part[] {
  return words(typed, /\n/).map((line) => {
    const match = /^([\d.]+)\s*(?:[-–—]|to)\s*([\d.]+)\s*(.*)$/.exec(line);
    if (!match) throw new Error(`${what}: '${line}' is not a range; write it like 10.62.8.150–10.62.8.199.`);
    const [, first, last, why] = match;
    return withWhy ? { first, last, why: why || null } : { first, last };
  });
}

export function sitePart(draft: Draft): Part {
  return {
    name: draft.name?.trim(),
    places: words(draft.places, /\n/),
    time_zone: draft.time_zone?.trim() || null,
    date_order: draft.date_order,
    clock: draft.clock,
    mains_hz: numberOr(draft.mains_hz, "Mains"),
  };
}

export function networkPart(draft: Draft): Part {
  return {
    cidr: draft.cidr?.trim(),
    gateway: draft.gateway?.trim() || null,
    dns: words(draft.dns, /[\s,;]+/),
    time_source: draft.time_source?.trim() || null,
    vlan: numberOr(draft.vlan, "VLAN"),
    pools: readRanges(draft.pools, "Lease pools", false),
    reserved: readRanges(draft.reserved, "Kept by IT", true),
  };
}

export function internetPart(draft: Draft): Part {
  const ports = (typed: string | undefined, what: string) =>
    words(typed, /[\s,;]+/).map((port) => numberOr(port, what) ?? 0);
  return {
    outside_address: draft.outside_address?.trim() || null,
    upstream_mbps: numberOr(draft.upstream_mbps, "Upstream"),
    router_ports: ports(draft.router_ports, "Router's own ports"),
    blocked_ports: ports(draft.blocked_ports, "Blocked ports"),
  };
}

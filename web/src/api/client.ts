import createClient from "openapi-fetch";
import type { components, paths } from "./schema.gen";

export type Schemas = components["schemas"];

/** What the server says when it does not do something: one sentence, and a sentence a fault. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly faults: { path: string; message: string }[] = [],
    readonly conflict: { yours: unknown; current: unknown; revision: number } | null = null,
  ) {
    super(message);
  }
}

export function cookie(name: string): string {
  const found = document.cookie.split("; ").find((part) => part.startsWith(`${name}=`));
  return found ? decodeURIComponent(found.slice(name.length + 1)) : "";
}

declare global {
  var tutelarEarly: Map<string, Promise<Response | undefined>> | undefined;
}
const EARLY_MS = 10_000;

/** Fetch, or take what early/early.js asked for while this program was still on its way: each answer once, while it is
 * fresh, and only where it is no refusal. */
async function fetchOnce(request: Request): Promise<Response> {
  const { pathname, search } = new URL(request.url);
  const early = globalThis.tutelarEarly;
  const asked = request.method === "GET" ? early?.get(pathname + search) : undefined;
  early?.delete(pathname + search);
  const answer = performance.now() < EARLY_MS ? await asked?.catch(() => undefined) : undefined;
  return answer?.ok ? answer : fetch(request);
}

export const client = createClient<paths>({ baseUrl: "/", fetch: fetchOnce });

/** Names this page to the server, so that what it says itself is not told to it again. */
export const PAGE = `${Date.now().toString(36)}-${Math.random().toString(36).slice(2, 10)}`;

client.use({
  onRequest({ request }) {
    if (request.method !== "GET") {
      request.headers.set("X-CSRFToken", cookie("csrftoken"));
      request.headers.set("X-Page", PAGE);
    }
    return request;
  },
});

/** What a request needs to send a file as it is. */
export function asBytes(file: Blob) {
  return {
    body: file as never,
    bodySerializer: (body: unknown) => body as Blob,
    headers: { "Content-Type": "application/octet-stream" },
  };
}

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** Return the data of an answer, or throw Refused with the server's own sentence. */
export async function ask<T>(answer: Promise<Answer<T>>): Promise<T> {
  let got: Answer<T>;
  try {
    got = await answer;
  } catch {
    throw new Refused(0, "The server does not answer. What you typed is still here; try again.");
  }
  if (got.response.ok) return got.data as T;
  throw refusal(got.response.status, got.error);
}

export function refusal(status: number, body: unknown): Refused {
  const told = (typeof body === "object" && body !== null ? body : {}) as Partial<
    Schemas["ApiError"] & Schemas["Conflict"]
  >;
  const conflict =
    typeof told.revision === "number"
      ? { yours: told.yours, current: told.current, revision: told.revision }
      : null;
  const message = told.message ?? `The server answered with status ${status}.`;
  return new Refused(status, message, told.faults ?? [], conflict);
}

import createClient from "openapi-fetch";
import type { components, paths } from "@/api/schema";

export type Schemas = components["schemas"];
export type SiteCard = Schemas["SiteCard"];
export type Site = Schemas["SiteOut"];
export type Page = Schemas["PageOut"];
export type Revision = Schemas["RevisionOut"];
export type Role = Schemas["RoleOut"];
export type Coat = Schemas["CoatOut"];
export type Property = Schemas["PropertyOut"];
export type Reading = Schemas["ReadingOut"];
export type Finding = Schemas["FindingOut"];
export type Offer = Schemas["ColourOffer"];
export type Offers = Schemas["OffersForOne"];
export type Nearest = Schemas["NearestColour"];
export type Where = Schemas["Where"];
/** A revision: its study's number, and its number in that. */
export type Base = Schemas["RevisionName"];
/** One thing that a person does to a study; see the acts of the core. */
export type Act = Schemas["ActsIn"]["acts"][number];
export type ActOf<Name extends Act["act"]> = Extract<Act, { act: Name }>;
type AnySearch = Schemas["SearchIn"];
export type SearchName = AnySearch["search"];
/** A question about what would help, without the revision it is about. */
export type Search<Name extends SearchName> = Omit<Extract<AnySearch, { search: Name }>, "base">;
export type Answer<Name extends SearchName> = Extract<Schemas["AnswerOut"], { search: Name }>;
export type Plan = Schemas["PlanOut"];
export type Job = Schemas["JobOut"];
export type Found = Schemas["FoundOut"];
export type FoundGroup = Schemas["FoundGroup"];
export type FoundColour = Schemas["FoundColour"];
export type Proposal = Schemas["ProposalOut"];
export type Place = Schemas["PlaceOut"];
export type Way = Schemas["WayOut"];
export type Checked = Schemas["CheckedOut"];
export type Session = Schemas["SessionOut"];

/** An answer that is no: one sentence for people, a code and details for the screens. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly details: Record<string, unknown> = {},
  ) {
    super(message);
  }
}

export const OFFLINE = new Refusal(
  0,
  "offline",
  "Glaucon cannot be reached just now. What you see stays here. Try again in a moment.",
);

/** The token that Django wants to see with every write. */
export function csrfToken(): string {
  return /(?:^|;\s*)(?:__Host-)?csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? "";
}

/** Turns an error body into a Refusal, whatever the body is. */
export function refusalOf(status: number, body: unknown): Refusal {
  const { code, message, details } = (body ?? {}) as {
    code?: string;
    message?: string;
    details?: Record<string, unknown>;
  };
  return new Refusal(
    status,
    code ?? "error",
    message ?? "Something went wrong on our side. Nothing was changed. Try again.",
    details ?? {},
  );
}

/** What a failure says to a person. */
export const sentence = (refusal: unknown): string => (refusal instanceof Error ? refusal.message : String(refusal));

const client = createClient<paths>({ baseUrl: "/" });
client.use({
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", csrfToken());
    return request;
  },
});

interface Response_<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** How work stands that has yet to end, and how many pieces of work come first. */
type Standing = Schemas["WorkOut"];
const FIRST_WAIT = 150; // milliseconds between two questions, longer each time
const LONGEST_WAIT = 1200;

/** Asks after work until it has an answer. Where it is no longer wanted it is ended, and throws a Refusal. */
async function followed(standing: Standing, signal?: AbortSignal, tell?: (ahead: number) => void): Promise<Response> {
  const address = `/api/work/${standing.work}`;
  for (let wait = FIRST_WAIT; ; wait = Math.min(wait * 1.3, LONGEST_WAIT)) {
    tell?.(standing.ahead);
    await new Promise((done) => {
      setTimeout(done, wait);
      signal?.addEventListener("abort", done, { once: true });
    });
    if (signal?.aborted) {
      await fetch(address, { method: "DELETE", headers: { "X-CSRFToken": csrfToken() } });
      throw new Refusal(0, "stopped", "Stopped.");
    }
    const response = await fetch(address, { headers: { Accept: "application/json" } });
    if (response.status !== 202) return response;
    standing = (await response.json()) as Standing;
  }
}

/** Gives the answer that a response is, or that its work comes to. */
export async function settled<T>(
  response: Response,
  body: unknown,
  signal?: AbortSignal,
  tell?: (ahead: number) => void,
): Promise<T> {
  if (response.status === 202) {
    response = await followed(body as Standing, signal, tell);
    body = await response.json().catch(() => null);
  }
  if (!response.ok) throw refusalOf(response.status, body);
  return body as T;
}

/** Waits for an answer; gives its data or throws a Refusal. `signal` ends work that is no longer wanted. */
export async function ask<T>(
  pending: Promise<Response_<T>>,
  signal?: AbortSignal,
  tell?: (ahead: number) => void,
): Promise<T> {
  let answer: Response_<T>;
  try {
    answer = await pending;
    if (answer.response.status === 202) return await settled<T>(answer.response, answer.data, signal, tell);
  } catch (refusal) {
    throw refusal instanceof Refusal ? refusal : OFFLINE;
  }
  if (!answer.response.ok) throw refusalOf(answer.response.status, answer.error);
  return answer.data as T;
}

export default client;

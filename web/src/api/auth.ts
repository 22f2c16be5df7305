import { csrfToken, OFFLINE, Refusal } from "@/api/client";

/** A sign-in of the same person, on some device. */
export interface SignIn {
  id: number;
  ip: string;
  user_agent: string;
  created_at: number;
  last_seen_at?: number;
  is_current: boolean;
}

/** What the accounts' own interface answers: the steps that are still to be done are in `waiting`. */
export interface AuthAnswer<T> {
  status: number;
  data: T;
  meta: Record<string, unknown>;
  waiting: string[];
  /** How a second step may be done, where one waits: "totp", "webauthn", "recovery_codes". */
  ways: string[];
}

interface Body {
  data?: { flows?: { id: string; is_pending?: boolean; types?: string[] }[] };
  meta?: Record<string, unknown>;
  errors?: { message: string; code: string }[];
}

/** Asks the accounts' interface; a refusal is thrown in its words. 401 is an answer: something is yet to be done. */
export async function auth<T = unknown>(way: string, method = "POST", body?: unknown): Promise<AuthAnswer<T>> {
  const headers = { "Content-Type": "application/json", "X-CSRFToken": csrfToken() };
  const response = await fetch(`/auth/browser/v1/${way}`, {
    method,
    headers,
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  }).catch(() => {
    throw OFFLINE;
  });
  const told = (await response.json().catch(() => ({}))) as Body;
  const flows = told.data?.flows ?? [];
  if (response.status === 401 && flows.some((one) => one.id.endsWith("reauthenticate")))
    throw new Refusal(401, "not-sure", "Type your password once more.");
  const isAnswer = response.ok || response.status === 401 || (method === "GET" && response.status === 404);
  if (!isAnswer) {
    const first = told.errors?.[0];
    const many = "That was tried too often. Wait some minutes and try again.";
    const said =
      response.status === 429 ? many : (first?.message ?? "That did not work. Load the page again and retry.");
    throw new Refusal(response.status, first?.code ?? "refused", said);
  }
  return {
    status: response.status,
    data: told.data as T,
    meta: told.meta ?? {},
    waiting: flows.filter((one) => one.is_pending).map((one) => one.id),
    ways: flows.filter((one) => one.is_pending).flatMap((one) => one.types ?? []),
  };
}

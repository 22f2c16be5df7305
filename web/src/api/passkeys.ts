import { create, get, supported } from "@github/webauthn-json";
import { auth, type AuthAnswer } from "@/api/auth";
import { Refusal } from "@/api/client";

/** A passkey, as its owner called it. */
export interface Passkey {
  id: number;
  type: string;
  name: string;
  created_at: number;
  last_used_at?: number | null;
}

/** Whether this browser can have passkeys here: an address without a name, such as 127.0.0.1, cannot. */
export const canUsePasskeys = () => supported() && !/^[\d.]+$|^\[/.test(location.hostname);

/** What a device says, in words; it says as little as it can of why. */
async function ofDevice<T>(ask: () => Promise<T>): Promise<T> {
  try {
    return await ask();
  } catch (error) {
    const isThere = error instanceof DOMException && error.name === "InvalidStateError";
    const said = isThere
      ? "This device has a passkey for you here already."
      : "No passkey was used. Try again, or take another way in.";
    throw new Refusal(400, "no-passkey", said);
  }
}

export async function listPasskeys(): Promise<Passkey[]> {
  const { data } = await auth<Passkey[]>("account/authenticators", "GET");
  return Array.isArray(data) ? data.filter((one) => one.type === "webauthn") : [];
}

/** Has the device make a passkey; gives whether spare codes were made with it. */
export async function addPasskey(name: string): Promise<boolean> {
  const { data } = await auth<{ creation_options: Parameters<typeof create>[0] }>(
    "account/authenticators/webauthn?passwordless",
    "GET",
  );
  const credential = await ofDevice(() => create(data.creation_options));
  const { meta } = await auth("account/authenticators/webauthn", "POST", { name, credential });
  return meta.recovery_codes_generated === true;
}

export const removePasskey = (id: number) =>
  auth("account/authenticators/webauthn", "DELETE", { authenticators: [id] });

/** Signs in with a passkey alone, or with one after the password. */
export async function usePasskey(way: "login" | "authenticate"): Promise<AuthAnswer<unknown>> {
  const path = `auth/webauthn/${way}`;
  const { data } = await auth<{ request_options: Parameters<typeof get>[0] }>(path, "GET");
  const credential = await ofDevice(() => get(data.request_options));
  return auth(path, "POST", { credential }).catch((refusal: unknown) => {
    const isUnknown = refusal instanceof Refusal && refusal.status === 400;
    throw isUnknown ? new Refusal(400, "no-passkey", "That passkey does not hold here. Take another way in.") : refusal;
  });
}

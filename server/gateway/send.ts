import type { WireRequest } from "#core/profiles/request";
import type { Runtime } from "../runtime";
import { textUpTo } from "./answers";

const LONGEST_ANSWER = 2_000_000;

export type Sent =
  | { ok: true; status: number; body: string; headers: [string, string][] }
  | { ok: false; because: "time-out" | "unreachable"; says: string };

/** Sends one request with a time-out, follows no redirect, and reads no endless answer. Never throws. */
export async function send(rt: Runtime, wire: WireRequest): Promise<Sent> {
  try {
    const response = await rt.http(wire.url, {
      method: wire.method,
      headers: { ...wire.headers, "user-agent": "Zahlung" },
      ...(wire.body !== undefined && { body: wire.body }),
      redirect: "manual",
      signal: AbortSignal.timeout(rt.settings.providerTimeout),
    });
    const body = await textUpTo(response, LONGEST_ANSWER);
    if (body === null) return { ok: false, because: "unreachable", says: "sent an endless answer." };
    return { ok: true, status: response.status, body, headers: [...response.headers] };
  } catch (error) {
    if (error instanceof DOMException && error.name === "TimeoutError")
      return { ok: false, because: "time-out", says: "did not answer in time." };
    return { ok: false, because: "unreachable", says: "could not be reached." };
  }
}

import { eq } from "drizzle-orm";
import type { Mode } from "#core/mode";
import { changeSettings } from "../audit/audit";
import { endpoints } from "../database/schema";
import { call, openLine, saysWhat } from "../gateway/gateway";
import type { Runtime } from "../runtime";
import {
  type ConnectionWithProfile,
  currentEndpoint,
  type Endpoint,
  endpointAddress,
  replaceEndpoint,
} from "./connections";

export type Attempt = { ok: true } | { ok: false; says: string };

const noKeys: Attempt = { ok: false, says: "The keys have to be there first." };
const noWebhooks = (name: string): Attempt => ({ ok: false, says: `${name} sends no webhooks.` });

/** The secret in the clear, to carry to the provider by hand; null once a message has proven it. */
export const copyableSecret = (rt: Runtime, endpoint: Endpoint) =>
  endpoint.provenAt === null ? openEndpointSecret(rt, endpoint) : null;

export const openEndpointSecret = (rt: Runtime, endpoint: Pick<Endpoint, "id" | "secret">) =>
  rt.seal.open(endpoint.secret, `endpoint:${endpoint.id}`);

/** Registers our address at the provider through its API; pressing it twice registers once. */
export async function registerWebhook(
  rt: Runtime,
  person: string,
  { connection, profile }: ConnectionWithProfile,
  mode: Mode,
): Promise<Attempt> {
  const line = await openLine(rt, connection.id, mode);
  if (!profile.webhooks) return noWebhooks(profile.name);
  if (!line) return noKeys;
  const endpoint = await currentEndpoint(rt, connection.id, mode);
  const known = await adopt(rt, { connection, profile }, mode, endpoint);
  if (known) return { ok: true };
  const secret = openEndpointSecret(rt, endpoint);
  const address = endpointAddress(rt, endpoint);
  const input = { address, secret, events: profile.webhooks.events };
  const answer = await call<{ id: string }>(rt, line, "registerWebhook", input, {
    secrets: [secret, endpoint.path],
  });
  if (answer.kind !== "answered") return { ok: false, says: saysWhat(profile.name, answer) };
  await changeSettings(
    rt,
    { person, action: "webhook registered", subject: connection.id, detail: { mode } },
    [
      rt.db.orm
        .update(endpoints)
        .set({ registration: { id: answer.value.id, at: rt.now() } })
        .where(eq(endpoints.id, endpoint.id)),
    ],
  );
  return { ok: true };
}

/** The registration of our address at the provider, found again if it was made by hand there. */
async function adopt(
  rt: Runtime,
  { connection, profile }: ConnectionWithProfile,
  mode: Mode,
  endpoint: Endpoint,
): Promise<string | null> {
  const line = await openLine(rt, connection.id, mode);
  if (!line || !profile.operations.listWebhooks) return endpoint.registration?.id ?? null;
  const answer = await call<{ webhooks: { id: string; address: string }[] }>(
    rt,
    line,
    "listWebhooks",
    {},
    { secrets: [endpoint.path] },
  );
  if (answer.kind !== "answered") return endpoint.registration?.id ?? null;
  const found = answer.value.webhooks.find((one) => one.address === endpointAddress(rt, endpoint));
  if (!found) return null;
  if (found.id !== endpoint.registration?.id) {
    await rt.db.write([
      rt.db.orm
        .update(endpoints)
        .set({ registration: { id: found.id, at: rt.now() } })
        .where(eq(endpoints.id, endpoint.id)),
    ]);
  }
  return found.id;
}

/** Asks the provider to send a test message. Whether it arrives is seen by the intake. */
export async function pingWebhook(
  rt: Runtime,
  { connection, profile }: ConnectionWithProfile,
  mode: Mode,
): Promise<Attempt> {
  const line = await openLine(rt, connection.id, mode);
  if (!line) return noKeys;
  const endpoint = await currentEndpoint(rt, connection.id, mode);
  const id = await adopt(rt, { connection, profile }, mode, endpoint);
  if (!id) return { ok: false, says: `${profile.name} does not know this address yet. Register it first.` };
  const answer = await call(rt, line, "pingWebhook", { id });
  return answer.kind === "answered" ? { ok: true } : { ok: false, says: saysWhat(profile.name, answer) };
}

/** Makes a new address and secret, and takes the old one off at the provider where that is possible. */
export async function renewWebhook(
  rt: Runtime,
  person: string,
  where: ConnectionWithProfile,
  mode: Mode,
): Promise<Attempt> {
  const old = await currentEndpoint(rt, where.connection.id, mode);
  await replaceEndpoint(rt, person, where.connection.id, mode);
  const line = await openLine(rt, where.connection.id, mode);
  if (old.registration && line) {
    const answer = await call(rt, line, "removeWebhook", { id: old.registration.id });
    if (answer.kind !== "answered")
      return { ok: false, says: `The old address stays on: ${saysWhat(where.profile.name, answer)}` };
  }
  return { ok: true };
}

import { said, type Told } from "#core/said";
import { eq } from "drizzle-orm";
import type { Mode } from "#core/mode";
import { changeSettings } from "../audit/audit";
import type { Endpoint } from "../database/rows";
import { endpoints } from "../database/schema";
import { compareRegistrations, type Registrations } from "#core/connections/registrations";
import type { Profile } from "#core/profiles/profile";
import { call, type Line, openLine, saysWhat } from "../gateway/gateway";
import type { Runtime } from "../runtime";
import { type ConnectionWithProfile, currentEndpoint, endpointAddress, newEndpoint } from "./connections";

export type Attempt = { ok: true } | { ok: false; says: Told };

const noKeys: Attempt = { ok: false, says: said("webhook.keys-first") };
const noWebhooks = (name: string): Attempt => ({
  ok: false,
  says: said("webhook.sends-no-webhooks", { provider: name }),
});

/** The secret in the clear, to carry to the provider by hand; null once a message has proven it. */
export const copyableSecret = (rt: Runtime, endpoint: Endpoint) =>
  endpoint.provenAt === null ? openEndpointSecret(rt, endpoint) : null;

export const openEndpointSecret = (rt: Runtime, endpoint: Pick<Endpoint, "id" | "secret">) =>
  rt.seal.open(endpoint.secret, `endpoint:${endpoint.id}`);

/** Registers our address at the provider through its API; pressing it twice registers once. */
export async function registerWebhook(
  rt: Runtime,
  person: string,
  where: ConnectionWithProfile,
  mode: Mode,
): Promise<Attempt> {
  const { connection, profile } = where;
  const line = await openLine(rt, { connectionId: connection.id, mode });
  if (!profile.webhooks) return noWebhooks(profile.name);
  if (!line) return noKeys;
  const endpoint = await currentEndpoint(rt, connection.id, mode);
  const known = await adopt(rt, where, mode, endpoint);
  if (known) return { ok: true };
  const secret = openEndpointSecret(rt, endpoint);
  const address = endpointAddress(rt, endpoint);
  const input = { address, secret, events: profile.webhooks.events };
  const answer = await call(rt, line, "registerWebhook", input, {
    secrets: [secret, endpoint.path],
  });
  if (answer.kind !== "answered") return { ok: false, says: saysWhat(profile.name, answer) };
  await changeSettings(
    rt,
    { person, action: "webhook registered", subject: connection.id, detail: { mode } },
    [
      rt.db.orm
        .update(endpoints)
        .set({ registration: { id: answer.value.id, at: rt.now() }, registrations: null })
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
  const line = await openLine(rt, { connectionId: connection.id, mode });
  if (!line || !profile.operations.listWebhooks) return endpoint.registration?.id ?? null;
  const found = await readRegistrations(rt, line, profile, endpoint);
  if (!found) return endpoint.registration?.id ?? null;
  return found.ours[0] ?? null;
}

/** Reads the provider's own list of registrations and keeps what it holds against what it should. */
async function readRegistrations(
  rt: Runtime,
  line: Line,
  profile: Profile,
  endpoint: Endpoint,
): Promise<Registrations | null> {
  const all = await rt.db.orm
    .select()
    .from(endpoints)
    .where(eq(endpoints.connectionId, endpoint.connectionId));
  const secrets = all.map((one) => one.path);
  const answer = await call(rt, line, "listWebhooks", {}, { secrets });
  if (answer.kind !== "answered") return null;
  const givenUp = new Set(all.filter((one) => one.retiredAt !== null).map((one) => endpointAddress(rt, one)));
  const list = answer.value.webhooks;
  const events = profile.webhooks?.events ?? [];
  const found = compareRegistrations(list, endpointAddress(rt, endpoint), givenUp, events, rt.now());
  const [id] = found.ours;
  const registration = id
    ? { id, at: endpoint.registration?.id === id ? endpoint.registration.at : rt.now() }
    : undefined;
  await rt.db.write([
    rt.db.orm
      .update(endpoints)
      .set({ registrations: found, ...(registration && { registration }) })
      .where(eq(endpoints.id, endpoint.id)),
  ]);
  return found;
}

/** Looks at the provider's list of registrations, where it has one and there are keys. */
export async function lookAtRegistrations(
  rt: Runtime,
  { connection, profile }: ConnectionWithProfile,
  mode: Mode,
): Promise<void> {
  const line = profile.operations.listWebhooks && (await openLine(rt, { connectionId: connection.id, mode }));
  if (line) await readRegistrations(rt, line, profile, await currentEndpoint(rt, connection.id, mode));
}

/**
 * Mends the registrations at the provider: takes off what is doubled, what listens to too little, and addresses that
 * were given up; registers ours if it is not there. What leads elsewhere is left alone.
 */
export async function mendRegistrations(
  rt: Runtime,
  person: string,
  where: ConnectionWithProfile,
  mode: Mode,
): Promise<Attempt> {
  const { connection, profile } = where;
  const line = await openLine(rt, { connectionId: connection.id, mode });
  if (!line) return noKeys;
  const endpoint = await currentEndpoint(rt, connection.id, mode);
  const found = await readRegistrations(rt, line, profile, endpoint);
  if (!found) return { ok: false, says: said("webhook.did-not-give-list", { provider: profile.name }) };
  const [first, ...doubled] = found.ours;
  const off = [
    ...doubled,
    ...found.left.map((one) => one.id),
    ...(found.missingEvents.length && first ? [first] : []),
  ];
  for (const id of off) {
    const answer = await call(rt, line, "removeWebhook", { id });
    if (answer.kind !== "answered") return { ok: false, says: saysWhat(profile.name, answer) };
  }
  await changeSettings(
    rt,
    {
      person,
      action: "webhook registrations mended",
      subject: connection.id,
      detail: { mode, removed: off.length },
    },
    [],
  );
  const registered = await registerWebhook(rt, person, where, mode);
  if (registered.ok)
    await readRegistrations(rt, line, profile, await currentEndpoint(rt, connection.id, mode));
  return registered;
}

/** Asks the provider to send a test message. Whether it arrives is seen by the intake. */
export async function pingWebhook(rt: Runtime, where: ConnectionWithProfile, mode: Mode): Promise<Attempt> {
  const { connection, profile } = where;
  const line = await openLine(rt, { connectionId: connection.id, mode });
  if (!line) return noKeys;
  const endpoint = await currentEndpoint(rt, connection.id, mode);
  const id = await adopt(rt, where, mode, endpoint);
  if (!id) return { ok: false, says: said("webhook.does-not-know-address", { provider: profile.name }) };
  const answer = await call(rt, line, "pingWebhook", { id });
  return answer.kind === "answered" ? { ok: true } : { ok: false, says: saysWhat(profile.name, answer) };
}

/**
 * Makes a new address and secret. Where the provider can be told by a call, the new one is registered before the old is
 * given up and taken off, so that no message falls between them; when that fails, the old one goes on. The old address
 * listens on for what is under way.
 */
export async function renewWebhook(
  rt: Runtime,
  person: string,
  { connection, profile }: ConnectionWithProfile,
  mode: Mode,
): Promise<Attempt> {
  const old = await currentEndpoint(rt, connection.id, mode);
  const line = await openLine(rt, { connectionId: connection.id, mode });
  const { row, statement } = newEndpoint(rt, connection.id, mode);
  const byCall = line && profile.webhooks && profile.operations.registerWebhook && old.registration;
  let registration: Endpoint["registration"] = null;
  if (byCall) {
    // It listens from now on, and is not the current one before the provider has taken it.
    await rt.db.write([
      statement,
      rt.db.orm.update(endpoints).set({ retiredAt: rt.now() }).where(eq(endpoints.id, row.id)),
    ]);
    const secret = openEndpointSecret(rt, row);
    const input = { address: endpointAddress(rt, row), secret, events: profile.webhooks?.events ?? [] };
    const answer = await call(rt, line, "registerWebhook", input, { secrets: [secret, row.path] });
    if (answer.kind !== "answered")
      return {
        ok: false,
        says: said("webhook.old-address-stays", { because: saysWhat(profile.name, answer) }),
      };
    registration = { id: answer.value.id, at: rt.now() };
  }
  await changeSettings(
    rt,
    { person, action: "webhook address replaced", subject: connection.id, detail: { mode } },
    [
      rt.db.orm.update(endpoints).set({ retiredAt: rt.now() }).where(eq(endpoints.id, old.id)),
      ...(byCall ? [] : [statement]),
      rt.db.orm
        .update(endpoints)
        .set({ retiredAt: null, registration, createdAt: rt.now() })
        .where(eq(endpoints.id, row.id)),
    ],
  );
  // A provider that keeps one address only has put the new one in the old one's place.
  if (!byCall || !old.registration || registration?.id === old.registration.id) return { ok: true };
  const answer = await call(rt, line, "removeWebhook", { id: old.registration.id });
  return answer.kind === "answered"
    ? { ok: true }
    : {
        ok: false,
        says: said("webhook.new-address-use-old", { because: saysWhat(profile.name, answer) }),
      };
}

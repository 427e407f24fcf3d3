import { and, desc, eq } from "drizzle-orm";
import { checkDownload, checkServed, type FileFinding, type Served } from "#core/connect/domain-file";
import type { Mode } from "#core/mode";
import { changeSettings } from "../audit/audit";
import { domainFiles } from "../database/schema";
import { addressRefused } from "../gateway/addresses";
import { textUpTo } from "../gateway/answers";
import { call, openLine, saysWhat } from "../gateway/gateway";
import type { Runtime } from "../runtime";
import { digestOf } from "../settings";
import { isNear, type Storefront } from "../storefronts/storefronts";
import type { ConnectionWithProfile } from "./connections";

export type DomainFile = typeof domainFiles.$inferSelect;

/**
 * A mode's file as it was brought here, with what was found of it on one storefront's domain: each domain is looked
 * at by itself, and the file is the same for all.
 */
export async function domainFileOf(
  rt: Runtime,
  connectionId: string,
  mode: Mode,
  storefrontId: string,
): Promise<DomainFile | null> {
  const all = await rt.db.orm
    .select()
    .from(domainFiles)
    .where(and(eq(domainFiles.connectionId, connectionId), eq(domainFiles.mode, mode)))
    .orderBy(desc(domainFiles.takenAt));
  const own = all.find((one) => one.storefrontId === storefrontId);
  const brought = all.find((one) => one.body !== "");
  if (own) return own.body === "" && brought ? { ...own, name: brought.name, body: brought.body } : own;
  return brought ? { ...brought, storefrontId, lookedAt: null, findings: [], provider: null } : null;
}

const oneDomain = [domainFiles.connectionId, domainFiles.mode, domainFiles.storefrontId];

/** Where the shop has to serve a mode's file. */
export const fileAddress = ({ https, domain }: Storefront, path: string) =>
  `${https ? "https" : "http"}://${domain}${path}`;

/** Takes the file as it was downloaded. One that the provider would refuse is not kept. */
export async function takeFile(
  rt: Runtime,
  person: string,
  { connection, profile }: ConnectionWithProfile,
  mode: Mode,
  storefrontId: string,
  name: string,
  text: string,
): Promise<FileFinding[]> {
  if (!profile.file) return [];
  const findings = checkDownload(profile.file, mode, name, text);
  if (findings.some((one) => one.blocking)) return findings;
  const row = {
    name,
    body: text.replace(/^\ufeff/, ""),
    takenAt: rt.now(),
    lookedAt: null,
    findings,
    provider: null,
  };
  await changeSettings(
    rt,
    {
      person,
      action: "domain file taken",
      subject: connection.id,
      detail: { mode, fingerprint: digestOf(text) },
    },
    [
      rt.db.orm
        .insert(domainFiles)
        .values({ connectionId: connection.id, mode, storefrontId, ...row })
        .onConflictDoUpdate({ target: oneDomain, set: row }),
    ],
  );
  return findings;
}

/** Looks at the shop's domain as the provider will, then has the provider look, and keeps what both found. */
export async function lookAtDomain(
  rt: Runtime,
  person: string,
  { connection, profile }: ConnectionWithProfile,
  storefront: Storefront,
  mode: Mode,
): Promise<{ findings: FileFinding[]; provider: { ok: boolean; says: string } | null }> {
  const { file } = profile;
  if (!file) return { findings: [], provider: null };
  const kept = await domainFileOf(rt, connection.id, mode, storefront.id);
  const address = fileAddress(storefront, file.path[mode]);
  const findings = checkServed(file, mode, address, kept?.body ?? null, await served(rt, address));
  if (profile.needsHttps.includes(mode) && !storefront.https && !isNear(storefront.domain))
    findings.push({
      code: "not-https",
      blocking: true,
      says: `${profile.name} wants the shop reached by https in ${mode}.`,
    });
  let provider: { ok: boolean; says: string } | null = null;
  const line = await openLine(rt, connection.id, mode);
  if (line && !findings.some((one) => one.blocking)) {
    const answer = await call<{ ok: boolean; says: string }>(rt, line, "checkDomain", {
      domain: storefront.domain,
      address,
    });
    provider =
      answer.kind === "answered"
        ? { ok: answer.value.ok === true, says: String(answer.value.says) }
        : { ok: false, says: saysWhat(profile.name, answer) };
  }
  const row = { lookedAt: rt.now(), findings, provider };
  await changeSettings(
    rt,
    {
      person,
      action: "domain looked at",
      subject: connection.id,
      detail: { mode, ok: provider?.ok ?? false },
    },
    [
      rt.db.orm
        .insert(domainFiles)
        .values({
          connectionId: connection.id,
          mode,
          storefrontId: storefront.id,
          name: "",
          body: "",
          takenAt: rt.now(),
          ...row,
        })
        .onConflictDoUpdate({ target: oneDomain, set: row }),
    ],
  );
  return { findings, provider };
}

async function served(rt: Runtime, address: string): Promise<Served> {
  const refused = await addressRefused(rt, address);
  if (refused) return { ok: false, says: refused };
  try {
    const answer = await rt.http(address, {
      redirect: "manual",
      signal: AbortSignal.timeout(rt.settings.providerTimeout),
    });
    const text = await textUpTo(answer, 100_000);
    if (text === null) return { ok: false, says: "it answers without end." };
    return {
      ok: true,
      status: answer.status,
      type: answer.headers.get("content-type") ?? "",
      location: answer.headers.get("location"),
      text,
    };
  } catch (error) {
    return {
      ok: false,
      says:
        error instanceof DOMException && error.name === "TimeoutError"
          ? "it did not answer in time."
          : "it could not be reached.",
    };
  }
}

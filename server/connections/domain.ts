import { said, type Told } from "#core/said";
import { eq } from "drizzle-orm";
import { checkDownload, checkServed, type FileFinding, type Served } from "#core/connections/domain-file";
import type { Mode } from "#core/mode";
import { changeSettings } from "../audit/audit";
import type { DomainFile, Storefront } from "../database/rows";
import { domainFiles } from "../database/schema";
import { call, openLine, saysWhat } from "../gateway/gateway";
import type { Runtime } from "../runtime";
import { digestOf } from "../settings";
import { fileOn } from "../storefronts/now";
import { isNear } from "../storefronts/storefronts";
import { talk, wireFault } from "../wire/wire";
import type { ConnectionWithProfile } from "./connections";

export async function domainFileOf(
  rt: Runtime,
  connectionId: string,
  mode: Mode,
  storefrontId: string,
): Promise<DomainFile | null> {
  const all = await rt.db.orm.select().from(domainFiles).where(eq(domainFiles.connectionId, connectionId));
  return fileOn(storefrontId, mode, all);
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
): Promise<{ findings: FileFinding[]; provider: { ok: boolean; says: Told } | null }> {
  const { file } = profile;
  if (!file) return { findings: [], provider: null };
  const kept = await domainFileOf(rt, connection.id, mode, storefront.id);
  const address = fileAddress(storefront, file.path[mode]);
  const findings = checkServed(
    file,
    mode,
    address,
    kept?.body ?? null,
    await served(rt, connection.id, mode, address),
  );
  if (profile.needsHttps.includes(mode) && !storefront.https && !isNear(storefront.domain))
    findings.push({
      code: "not-https",
      blocking: true,
      says: said("domain.wants-shop-reached-https", { provider: profile.name, mode }),
    });
  let provider: { ok: boolean; says: Told } | null = null;
  const line = await openLine(rt, { connectionId: connection.id, mode });
  if (line && !findings.some((one) => one.blocking)) {
    const answer = await call(rt, line, "checkDomain", {
      domain: storefront.domain,
      address,
    });
    provider =
      answer.kind === "answered" ? answer.value : { ok: false, says: saysWhat(profile.name, answer) };
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

const LONGEST_FILE = 100_000;

/** Fetches the file as the provider will, and keeps the exchange. */
async function served(rt: Runtime, connectionId: string, mode: Mode, address: string): Promise<Served> {
  const sent = await talk(
    rt,
    { method: "GET", url: address, headers: {} },
    () => ({
      label: said("domain.look-domain-file"),
      to: "shop",
      operation: "domain",
      mode,
      connectionId,
      secrets: [],
    }),
    { most: LONGEST_FILE },
  );
  if (!sent.ok) return { ok: false, says: wireFault(sent, said("wire.it")) };
  const header = (name: string) => sent.headers.find(([one]) => one.toLowerCase() === name)?.[1] ?? null;
  return {
    ok: true,
    status: sent.status,
    type: header("content-type") ?? "",
    location: header("location"),
    text: sent.body,
  };
}

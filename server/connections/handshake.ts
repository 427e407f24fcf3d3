import { type Said, said, type Told } from "#core/said";
import { and, desc, eq, sql } from "drizzle-orm";
import { type Registrations, registrationFaults } from "#core/connections/registrations";
import { compareSides } from "#core/connections/account";
import type { FileFinding } from "#core/connections/domain-file";
import type { Mode } from "#core/mode";
import { type AccountState, methodOf, type ProfileField } from "#core/profiles/profile";
import type { AccountReading } from "#core/profiles/answers";
import { versionWords } from "#core/profiles/version-words";
import type { Endpoint, KeyCheck, KeySet, Storefront } from "../database/rows";
import { FORGED, webhooks } from "../database/schema";
import { currentVersion } from "../profiles/profiles";
import type { Runtime } from "../runtime";
import { isNear } from "../storefronts/storefronts";
import { type AccountChange, accountChange } from "./account-change";
import { type ConnectionWithProfile, currentEndpoint, endpointAddress } from "./connections";
import { domainFileOf, fileAddress } from "./domain";
import { type KeySides, keySidesOf } from "./key-sides";
import { alsoConnectedAs } from "./keys";
import { latestLink } from "./link";
import { type Earlier, earlierKeys } from "./rotation";
import { type Silence, silenceOf } from "./silence";
import { verifyingField } from "./verifying";
import { copyableSecret } from "./webhook";

/** A method as the account has it: with the card networks that are switched on, and those that are not. */
export interface MethodThere {
  name: string;
  on: boolean;
  networks: string[];
  off: string[];
  where: Told;
}

/** What a cell of the handshake sheet says. */
export type Cell =
  | { state: "missing" }
  /** `waitsFor` are the labels of what has to be there before it can be proven. */
  | { state: "entered"; hint: string; at: number; waitsFor: string[] }
  | { state: "proven"; hint: string; at: number }
  | { state: "stale"; hint: string; at: number; says: Said }
  | { state: "wrong"; hint: string; says: Told; code: string | null };

export interface WebhookColumn {
  address: string;
  /** Ours to hand over until it is proven; null where the provider makes it, or once it has been. */
  secret: string | null;
  secretHint: string | null;
  registered: boolean;
  provenAt: number | null;
  heardAt: number | null;
  /** The newest message that was not believed, and why, if nothing good came after it. */
  refused: { at: number; verdict: string } | null;
  /** What is wrong with the registrations at the provider. */
  faults: Said[];
  elsewhere: number;
  silence: Silence | null;
}

export interface FileColumn {
  address: string;
  name: string;
  takenAt: number | null;
  lookedAt: number | null;
  findings: FileFinding[];
  provider: { ok: boolean; says: Told } | null;
}

/** One mode's column of the handshake sheet. */
export interface Column {
  mode: Mode;
  fields: Record<string, Cell>;
  account:
    | (Omit<AccountReading, "methods"> & {
        methods: MethodThere[];
        at: number;
      })
    | null;
  review: AccountState | null;
  findings: { says: Said; blocking: boolean }[];
  rights: { label: string; has: boolean | null; why: string }[];
  unanswered: Told | null;
  /** Why this provider cannot serve the storefront in this mode as it is reached. */
  needsHttps: boolean;
  /** When earlier keys were entered that live payments go on with, because those on the sheet are not proven. */
  paysWithKeysOf: number | null;
  earlier: Earlier | null;
  /** Proven live keys of another account, which wait for a person to agree. */
  accountChange: AccountChange | null;
  link: Awaited<ReturnType<typeof latestLink>>;
  webhook: WebhookColumn | null;
  file: FileColumn | null;
}

export async function columnOf(
  rt: Runtime,
  where: ConnectionWithProfile,
  storefront: Storefront,
  mode: Mode,
  known?: KeySides,
): Promise<Column> {
  const { connection, profile } = where;
  const otherMode: Mode = mode === "test" ? "live" : "test";
  const sides = known ?? ((await keySidesOf(rt, [where])).get(connection.id) as KeySides);
  const { current: keys, check, fresh, paying, waiting } = sides[mode];
  const other = sides[otherMode].check;
  const [endpoint, earlier, change, twins, link, file] = await Promise.all([
    currentEndpoint(rt, connection.id, mode),
    earlierKeys(rt, where, mode, sides[mode]),
    mode === "live" ? accountChange(rt, where, sides.live) : null,
    alsoConnectedAs(rt, where, keys),
    profile.link ? latestLink(rt, connection.id, mode) : null,
    profile.file ? domainFileOf(rt, connection.id, mode, storefront.id) : null,
  ]);
  const needed = profile.operations.account?.proves ?? [];
  const waitsFor = profile.fields
    .filter((field) => needed.includes(field.id) && !keys?.values[field.id])
    .map((field) => field.label.toLowerCase());
  const cell = (field: ProfileField) => cellOf(field, { keys, check, fresh, endpoint, waitsFor });
  const fields = Object.fromEntries(profile.fields.map((field) => [field.id, cell(field)]));
  return {
    mode,
    fields,
    account: fresh && check?.account ? { ...accountWords(where, check.account), at: check.at } : null,
    review: fresh ? (check?.review ?? null) : null,
    findings: [
      ...(fresh && check?.account
        ? [...check.findings, ...compareSides(check.account, other?.account ?? null, otherMode)]
        : []),
      ...twins.map((name) => ({
        says: said("handshake.same-account-connected-as", { name }),
        blocking: false,
      })),
    ],
    rights: fresh
      ? profile.rights.map(({ id, label, why }) => ({ label, why, has: check?.rights[id] ?? null }))
      : [],
    unanswered: fresh ? (check?.unanswered ?? null) : null,
    needsHttps: profile.needsHttps.includes(mode) && !storefront.https && !isNear(storefront.domain),
    paysWithKeysOf:
      mode === "live" && where.liveOn.length > 0 && !waiting && paying && paying.keySet.id !== keys?.id
        ? paying.keySet.createdAt
        : null,
    earlier,
    accountChange: change,
    link,
    webhook: await webhookColumn(rt, where, mode, endpoint),
    file: profile.file
      ? {
          address: fileAddress(storefront, profile.file.path[mode]),
          name: profile.file.path[mode].split("/").at(-1) ?? "",
          takenAt: file?.body ? file.takenAt : null,
          lookedAt: file?.lookedAt ?? null,
          findings: file?.findings ?? [],
          provider: file?.provider ?? null,
        }
      : null,
  };
}

function cellOf(
  field: ProfileField,
  {
    keys,
    check,
    fresh,
    endpoint,
    waitsFor,
  }: {
    keys: KeySet | null;
    check: KeyCheck | null;
    fresh: boolean;
    endpoint: Endpoint;
    waitsFor: string[];
  },
): Cell {
  const entry = keys?.values[field.id];
  if (!entry) return { state: "missing" };
  const hint = entry.sealed ? `…${entry.hint}` : entry.value;
  if (field.provenBy === "webhook") {
    return endpoint.heardAt !== null && endpoint.heardAt >= entry.at
      ? { state: "proven", hint, at: endpoint.heardAt }
      : { state: "entered", hint, at: entry.at, waitsFor: ["first message"] };
  }
  const wrong = fresh ? check?.wrong[field.id] : undefined;
  if (wrong) return { state: "wrong", hint, ...wrong };
  if (!check?.proven.includes(field.id)) return { state: "entered", hint, at: entry.at, waitsFor };
  if (fresh) return { state: "proven", hint, at: check.at };
  return { state: "stale", hint, at: check.at, says: said("handshake.keys-were-entered-since") };
}

function accountWords({ profile }: ConnectionWithProfile, { methods, ...account }: AccountReading) {
  return {
    ...account,
    methods: (methods ?? []).map(({ id, on, networks, where }): MethodThere => {
      const method = methodOf(profile, id);
      return {
        name: method?.name ?? id,
        on,
        networks: on ? (networks ?? []) : [],
        off: on && networks ? (method?.networks ?? []).filter((one) => !networks.includes(one)) : [],
        where: where ?? said("handshake.dashboard"),
      };
    }),
  };
}

async function webhookColumn(
  rt: Runtime,
  { connection, profile }: ConnectionWithProfile,
  mode: Mode,
  endpoint: Endpoint,
): Promise<WebhookColumn | null> {
  if (!profile.webhooks) return null;
  const { signing } = profile.webhooks;
  const ours = signing.scheme === "standard-webhooks" && verifyingField(signing) === null;
  const [[refused], silence] = await Promise.all([
    rt.db.orm
      .select({ at: webhooks.receivedAt, verdict: webhooks.verdict })
      .from(webhooks)
      .where(and(eq(webhooks.endpointId, endpoint.id), sql`verdict <> 'verified' and event is not ${FORGED}`))
      .orderBy(desc(webhooks.number))
      .limit(1),
    silenceOf(rt, connection.id, mode, endpoint),
  ]);
  const seen: Registrations | null = endpoint.registrations ?? null;
  return {
    address: endpointAddress(rt, endpoint),
    secret: ours ? copyableSecret(rt, endpoint) : null,
    secretHint: ours ? endpoint.secretHint : null,
    registered: endpoint.registration !== null,
    provenAt: endpoint.provenAt,
    heardAt: endpoint.heardAt,
    refused: refused && refused.at > (endpoint.heardAt ?? 0) ? refused : null,
    faults: seen ? registrationFaults(seen, endpoint.registration !== null) : [],
    elsewhere: seen?.elsewhere.length ?? 0,
    silence,
  };
}

/** Which profile version each side runs, and what is newer, in plain words. */
export interface Versions {
  test: string;
  live: string;
  /** A version that is installed and that the test side does not run; null when it runs the current one. */
  newer: { id: string; version: string; differs: Said[] } | null;
  /** What the next cutover takes to live beside the offers; empty when both sides run the same. */
  waits: Said[];
}

export async function versionsOfSides(
  rt: Runtime,
  { connection, versions: { test, live } }: ConnectionWithProfile,
): Promise<Versions> {
  const current = await currentVersion(rt, connection.profileId);
  return {
    test: test.version,
    live: live.version,
    newer:
      current && current.id !== test.id
        ? { id: current.id, version: current.version, differs: versionWords(test.profile, current.profile) }
        : null,
    waits: live.id === test.id ? [] : versionWords(live.profile, test.profile),
  };
}

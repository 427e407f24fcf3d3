import { isSame, type Said, said } from "#core/said";
import { type AccountFinding, compareAccount } from "#core/connections/account";
import type { Mode } from "#core/mode";
import type { OperationName, Profile } from "#core/profiles/profile";
import type { AccountReading } from "#core/profiles/answers";
import { reviewOf } from "#core/profiles/response";
import type { KeyCheck } from "../database/rows";
import { keyChecks } from "../database/schema";
import { call, type GatewayAnswer, type Line, openLine, saysWhat } from "../gateway/gateway";
import type { Runtime } from "../runtime";
import { storefrontOf } from "../storefronts/storefronts";
import { type ConnectionWithProfile, servedBy } from "./connections";

type Found = Pick<KeyCheck, "account" | "findings" | "wrong" | "proven" | "unanswered" | "rights" | "review">;

/**
 * Proves the current keys by calls to the provider, as far as they are there, and keeps what was found: the account
 * first, then side by side the second key and each right.
 */
export async function proveKeys(
  rt: Runtime,
  { connection, profile, versions }: ConnectionWithProfile,
  mode: Mode,
): Promise<void> {
  // With the working version on both sides: it is what the next cutover takes to live.
  const line = await openLine(rt, { connectionId: connection.id, mode, versionId: versions.test.id });
  if (!line || !hasFields(line, profile.operations.account?.proves ?? [])) return;
  const found: Found = {
    account: null,
    findings: [],
    wrong: {},
    proven: [],
    unanswered: null,
    rights: {},
    review: null,
  };
  const answer = await call(rt, line, "account", {});
  if (answer.kind === "answered") {
    found.account = answer.value;
    found.review = reviewOf(profile, answer.value);
    found.proven.push(...(profile.operations.account?.proves ?? []));
    const [findings] = await Promise.all([
      findingsFor(rt, connection.id, answer.value),
      proveSecondField(rt, line, answer.value, found),
      ...profile.rights.map((right) => tryRight(rt, line, right, found)),
    ]);
    found.findings = findings;
  } else complain(profile, mode, "account", answer, found);
  await rt.db.write([
    rt.db.orm.insert(keyChecks).values({
      id: rt.ids.next("chk"),
      connectionId: connection.id,
      mode,
      keySetId: line.keySetId,
      at: rt.now(),
      ...found,
    }),
  ]);
}

/** The account held against every storefront it serves, each finding once. */
async function findingsFor(
  rt: Runtime,
  connectionId: string,
  account: AccountReading,
): Promise<AccountFinding[]> {
  const served = await servedBy(rt, connectionId);
  const storefronts = await Promise.all(served.map((id) => storefrontOf(rt, id)));
  const all = storefronts.flatMap((one) => (one ? compareAccount(account, one) : []));
  return all.filter((one, i) => all.findIndex((other) => isSame(other.says, one.says)) === i);
}

/** Asks something harmless that needs the right. Only a clear refusal counts as lacking it. */
async function tryRight(
  rt: Runtime,
  line: Line,
  right: Profile["rights"][number],
  found: Found,
): Promise<void> {
  const answer = await call(rt, line, right.operation, right.with);
  found.rights[right.id] =
    answer.kind === "unanswered"
      ? null
      : !(answer.kind === "refused" && answer.problem.kind === "not-permitted");
}

const hasFields = (line: Line, ids: readonly string[]) =>
  ids.every((id) => line.credentials[id] !== undefined);

async function proveSecondField(
  rt: Runtime,
  line: Line,
  account: AccountReading,
  found: Found,
): Promise<void> {
  const proves = line.profile.operations.fieldCheck?.proves ?? [];
  const [field] = proves;
  if (!field || !hasFields(line, proves)) return;
  const answer = await call(rt, line, "fieldCheck", {});
  if (answer.kind !== "answered") return complain(line.profile, line.mode, "fieldCheck", answer, found);
  if (answer.value.account === account.account) found.proven.push(...proves);
  else {
    const says = said("proving.key-belongs-account-other", {
      account: answer.value.account,
      other: account.account,
    });
    found.wrong[field] = { says, code: null };
  }
}

/** Puts a refusal beside the field that caused it. */
function complain(
  profile: Profile,
  mode: Mode,
  operation: OperationName,
  answer: Exclude<GatewayAnswer<unknown>, { kind: "answered" }>,
  found: Found,
) {
  if (answer.kind !== "refused") {
    found.unanswered = answer.says;
    return;
  }
  const { kind, code, text } = answer.problem;
  const proves = profile.operations[operation]?.proves ?? [];
  const blamed = Object.hasOwn(profile.blames, code) ? profile.blames[code] : undefined;
  const keyField = blamed ?? (operation === "account" ? profile.authentication.secret : (proves[0] ?? ""));
  const words: Partial<Record<typeof kind, Said>> = {
    "key-refused": said("proving.key-refused-does-not", { provider: profile.name }),
    "key-of-other-mode": said("proving.key-refused-key-other", { provider: profile.name, mode }),
    "key-of-other-account": said("proving.says", { provider: profile.name, text }),
    "access-withdrawn": said("proving.says-access-withdrawn-over", { provider: profile.name }),
  };
  const says = blamed
    ? saysWhat(profile.name, answer, false)
    : (words[kind] ?? saysWhat(profile.name, answer));
  if (kind === "key-of-other-account") for (const field of proves) found.wrong[field] = { says, code };
  else if (blamed || words[kind]) found.wrong[keyField] = { says, code };
  else found.unanswered = says;
}

import { said, type Told } from "../said";
import { Ajv2020, type ErrorObject, type ValidateFunction } from "ajv/dist/2020.js";
import { isCurrency } from "../money/currencies";
import { modes } from "../mode";
import { expressionRefused } from "./expressions";
import { pagedLists } from "./paging";
import { patternRefused } from "./patterns";
import { answersPayment, answersPayments, type OperationName, type Profile } from "./profile";
import schema from "./profile.schema.json";

/** The published schema (JSON Schema 2020-12) that every profile is held to. */
export const profileSchema: object = schema;

/** What is wrong with a document, and where: the keys and indexes that lead there. */
export interface ProfileProblem {
  path: (string | number)[];
  says: Told;
}

export type ProfileReading = { ok: true; profile: Profile } | { ok: false; problems: ProfileProblem[] };

/** The schema as a function, made when the first document is read: that takes longer than reading hundreds of them. */
let made: ValidateFunction<Profile> | undefined;
const validator = (): ValidateFunction<Profile> =>
  (made ??= new Ajv2020({
    ...{ allErrors: true, strict: false, ownProperties: true },
    // Making it faster takes longer than it ever saves here.
    code: { optimize: false },
  }).compile<Profile>(schema));

const MOST_DEEP = 40;
const MOST_VALUES = 20_000;
const MOST_PROBLEMS = 30;
/** Names that every object inherits, or that change what an object is. */
const forbiddenNames = new Set([...Object.getOwnPropertyNames(Object.prototype), "prototype"]);

/** Reads a profile from parsed JSON, or says in words what is wrong with it and where. Never throws. */
export function readProfile(document: unknown): ProfileReading {
  const hostile = hostileShape(document);
  if (hostile) return { ok: false, problems: [hostile] };
  const validate = validator();
  if (!validate(document)) {
    // Of a choice between forms only the choice itself is told, not why each form does not fit.
    const told = (validate.errors ?? []).filter(({ schemaPath }) => !/\/(oneOf|anyOf)\/\d/.test(schemaPath));
    return { ok: false, problems: told.slice(0, MOST_PROBLEMS).map(problemOf) };
  }
  const problems = meaningless(document).slice(0, MOST_PROBLEMS);
  return problems.length > 0 ? { ok: false, problems } : { ok: true, profile: document };
}

/** Nesting, size and names are looked at before anything else reads the document. */
function hostileShape(document: unknown): ProfileProblem | null {
  let values = 0;
  const look = (value: unknown, path: ProfileProblem["path"]): ProfileProblem | null => {
    values += 1;
    if (values > MOST_VALUES)
      return { path: [], says: said("read-profile.holds-more-than-values", { most: MOST_VALUES }) };
    if (path.length > MOST_DEEP)
      return { path: path.slice(0, 4), says: said("read-profile.nested-deeper-than", { most: MOST_DEEP }) };
    if (typeof value !== "object" || value === null) return null;
    for (const [name, one] of Object.entries(value)) {
      const at = [...path, Array.isArray(value) ? Number(name) : name];
      if (forbiddenNames.has(name)) return { path: at, says: said("read-profile.not-name-taken") };
      const found = look(one, at);
      if (found) return found;
    }
    return null;
  };
  return look(document, []);
}

function problemOf(error: ErrorObject): ProfileProblem {
  const path = error.instancePath
    .split("/")
    .slice(1)
    .map((part) => part.replaceAll("~1", "/").replaceAll("~0", "~"))
    .map((part) => (/^\d+$/.test(part) ? Number(part) : part));
  const params = error.params as Record<string, unknown>;
  switch (error.keyword) {
    case "additionalProperties":
      return { path: [...path, String(params.additionalProperty)], says: said("read-profile.not-key-known") };
    case "required":
      return { path, says: said("read-profile.lacks", { name: String(params.missingProperty) }) };
    case "enum":
      return { path, says: said("read-profile.must-one", { allowed: params.allowedValues as string[] }) };
    case "const":
      return { path, says: said("read-profile.must", { allowed: JSON.stringify(params.allowedValue) }) };
    case "oneOf":
      return { path, says: said("read-profile.fits-none-forms-may") };
    case "pattern":
      return { path, says: said("read-profile.does-not-look-right", { pattern: String(params.pattern) }) };
    default:
      return { path, says: error.message ?? said("read-profile.wrong") };
  }
}

/** What no schema can tell: expressions and patterns that must not be, and names that lead nowhere. */
function meaningless(profile: Profile): ProfileProblem[] {
  const problems: ProfileProblem[] = [];
  const say = (path: ProfileProblem["path"], says: Told) => problems.push({ path, says });
  for (const { path, source } of expressionsOf(profile)) {
    const refused = expressionRefused(source);
    if (refused) say(path, refused);
  }
  for (const { path, source } of patternsOf(profile)) {
    const refused = patternRefused(source);
    if (refused) say(path, refused);
  }
  const ids = new Set(profile.fields.map((field) => field.id));
  if (ids.size < profile.fields.length) say(["fields"], said("read-profile.names-one-field-twice"));
  const mustBeField = (path: ProfileProblem["path"], id: string | undefined) => {
    if (id !== undefined && !ids.has(id)) say(path, said("read-profile.names-no-field", { id }));
  };
  for (const [key, value] of Object.entries(profile.authentication))
    if (["secret", "user", "client"].includes(key)) mustBeField(["authentication", key], String(value));
  for (const [name, operation] of Object.entries(profile.operations)) {
    operation.proves?.forEach((id, i) => mustBeField(["operations", name, "proves", i], id));
    const { paging } = operation;
    if (paging && !Object.hasOwn(pagedLists, name))
      say(["operations", name, "paging"], said("read-profile.is-no-list"));
    if (paging && (paging.by === "offset") !== (paging.size !== undefined))
      say(["operations", name, "paging"], said("read-profile.size-is-of-offset"));
    if ((operation.answers === "xml") !== (operation.rows !== undefined))
      say(["operations", name], said("read-profile.rows-are-of-xml"));
  }
  const signing = profile.webhooks?.signing;
  if (signing?.scheme === "http-message-signature") mustBeField(["webhooks", "signing", "key"], signing.key);
  else if (signing && "secret" in signing) mustBeField(["webhooks", "signing", "secret"], signing.secret);
  const methods = new Set(profile.methods.map((method) => method.id));
  profile.fees.methods.forEach((fee, i) => {
    if (!methods.has(fee.method))
      say(["fees", "methods", i, "method"], said("read-profile.names-no-method", { method: fee.method }));
  });
  profile.methods.forEach((method, i) =>
    method.currencies.forEach((currency, j) => {
      if (!isCurrency(currency))
        say(["methods", i, "currencies", j], said("read-profile.no-currency-iso-4217"));
    }),
  );
  const names = Object.keys(profile.operations) as OperationName[];
  const pays = names.some((name) => answersPayment(profile, name) || answersPayments.has(name));
  if (pays && !profile.payment) say([], said("read-profile.lacks-payment-operations-need"));
  for (const [code, id] of Object.entries(profile.blames)) mustBeField(["blames", code], id);
  profile.rights.forEach((right, i) => {
    if (!profile.operations[right.operation])
      say(
        ["rights", i, "operation"],
        said("read-profile.names-profile-does-not", { operation: right.operation }),
      );
  });
  for (const mode of modes) {
    const side = profile.modes[mode];
    const lack = (what: "token" | "jwks" | "authorize", because: Told) => {
      if (!side[what]) say(["modes", mode], said("read-profile.lacks-needs", { what, because }));
    };
    if (profile.authentication.scheme === "oauth2-client-credentials")
      lack("token", said("read-profile.authentication"));
    if (signing?.scheme === "detached-jws") lack("jwks", said("read-profile.signing-webhooks"));
    if (profile.link) lack("authorize", "linking");
    if (profile.link) lack("token", "linking");
  }
  if (profile.ridesOn && !profile.operations.create)
    for (const name of ["requestToken", "readToken"] as const)
      if (!profile.operations[name])
        say(["operations"], said("read-profile.lacks-riding-another-connection", { name }));
  const waits = Object.values(profile.statuses ?? {}).includes("to-confirm");
  const { confirm, capture, read, find } = profile.operations;
  if (waits !== (confirm !== undefined)) say(["operations"], said("read-profile.confirm-and-status"));
  if (confirm && !read && !find) say(["operations"], said("read-profile.confirm-lacks-reading"));
  const hasSessions = profile.sessions && profile.operations.openSession && profile.operations.readSession;
  const readsVerified = Object.values(profile.statuses ?? {}).includes("verified");
  profile.methods.forEach(({ button, verifies, repeats, capturedByCall, capture: ways }, i) => {
    if (button && !hasSessions) say(["methods", i, "button"], said("read-profile.button-lacks-sessions"));
    if (verifies && !(repeats && readsVerified))
      say(["methods", i, "verifies"], said("read-profile.verifies-lacks"));
    if (capturedByCall && !(capture && ways.includes("at-once") && ways.includes("later")))
      say(["methods", i, "capturedByCall"], said("read-profile.captured-by-call-lacks"));
  });
  if (profile.link && !profile.operations.linkedKeys)
    say(["operations"], said("read-profile.lacks-linkedkeys-linking-needs"));
  return problems;
}

type Found = { path: ProfileProblem["path"]; source: string };

function expressionsOf(profile: Profile): Found[] {
  const found: Found[] = [];
  const add = (path: ProfileProblem["path"], source: string | undefined) => {
    if (source !== undefined) found.push({ path, source });
  };
  const headers = (path: ProfileProblem["path"], list: Record<string, string> | undefined) =>
    Object.entries(list ?? {}).forEach(([name, source]) => add([...path, name], source));
  headers(["authentication", "headers"], profile.authentication.headers);
  for (const [name, { request, response }] of Object.entries(profile.operations)) {
    add(["operations", name, "request", "body"], request.body);
    headers(["operations", name, "request", "headers"], request.headers);
    add(["operations", name, "response"], response);
  }
  add(["payment"], profile.payment);
  for (const key of ["asked", "told"] as const) add(["sessions", key], profile.sessions?.[key]);
  for (const key of ["when", "code", "text"] as const) add(["problem", key], profile.problem[key]);
  if (profile.webhooks)
    for (const key of ["kind", "at", "payment"] as const) add(["webhooks", key], profile.webhooks[key]);
  return found;
}

function patternsOf(profile: Profile): Found[] {
  return [
    ...profile.fields.flatMap((field, i) => [
      ...modes.map((mode) => ({ path: ["fields", i, "pattern", mode], source: field.pattern[mode] })),
      ...field.lookalikes.map(({ pattern }, j) => ({
        path: ["fields", i, "lookalikes", j, "pattern"],
        source: pattern,
      })),
    ]),
    ...(profile.file
      ? modes.map((mode) => ({ path: ["file", "pattern", mode], source: profile.file?.pattern[mode] ?? "" }))
      : []),
  ];
}

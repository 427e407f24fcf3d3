import type { Mode } from "../mode";
import type { OperationName, Profile, ProfileField } from "./profile-types";

export * from "./profile-types";

/** What a provider's sandbox may play of what otherwise banks, shoppers and time do. */
export type SandboxPlay = keyof NonNullable<Profile["plays"]>;

/** Something with operations of a provider, whichever they are. */
export type Operating = { operations: Partial<Profile["operations"]> };

const onePayment: ReadonlySet<OperationName> = new Set([
  "create",
  "confirm",
  "read",
  "capture",
  "void",
  "release",
  "refund",
  "answerDispute",
  "acceptDispute",
  "decideReview",
  "actForShopper",
]);
/** Operations whose answer is a list of payments. */
export const answersPayments: ReadonlySet<OperationName> = new Set(["find", "list"]);

/** Whether a provider moves no money itself but hands a token to a connection that it rides on. */
export const ridesAlong = (profile: Pick<Profile, "ridesOn"> & Operating): boolean =>
  profile.ridesOn !== undefined && profile.operations.requestToken !== undefined;

/** Whether a request's body speaks of a value of its input; what stands between quotation marks is the provider's own. */
const speaksOf = (body: string | undefined, value: string): boolean =>
  new RegExp(`\\b${value}\\b`).test((body ?? "").replace(/'[^']*'|"[^"]*"/g, "''"));

/** Whether its orders to pay carry a text for the shopper's statement. */
export const sendsStatement = ({ operations }: Operating): boolean =>
  speaksOf(operations.create?.request.body, "statement");

/** Whether files can go with the answer to a dispute. */
export const takesEvidence = ({ operations }: Operating): boolean =>
  speaksOf(operations.answerDispute?.request.body, "files");

/** Whether its methods can be offered: it takes payments itself, or rides on a connection that does. */
export const takesPayments = (profile: Pick<Profile, "ridesOn"> & Operating): boolean =>
  profile.operations.create !== undefined || ridesAlong(profile);

/** Whether an operation's answer is one payment. What a rider's shopper does leads to a token, not to a payment. */
export const answersPayment = (profile: Profile, name: OperationName): boolean =>
  onePayment.has(name) && !(name === "actForShopper" && ridesAlong(profile));

export const methodOf = (profile: Profile, id: string) => profile.methods.find((method) => method.id === id);
export const fieldOf = (profile: Profile, id: string) => profile.fields.find((field) => field.id === id);

const originOf = (address: string) => new URL(address.replace(/[{}]/g, "")).origin;
const originsOf = (addresses: readonly (string | undefined)[]) => [
  ...new Set(addresses.flatMap((one) => (one ? [originOf(one)] : []))),
];

/** Origins that a profile makes browsers embed, for the content security policy. */
export const frameOrigins = ({ browser }: Profile): string[] =>
  browser.kind === "frame" ? originsOf(Object.values(browser.address)) : [];

/** Origins that Zahlung itself calls. */
export const calledOrigins = ({ modes }: Profile): string[] =>
  originsOf(Object.values(modes).flatMap(({ api, token, jwks }) => [api, token, jwks]));

/** Every origin of the provider that the profile names: calls, dashboards, pages to agree on and frames. */
export const knownOrigins = (profile: Profile): string[] => [
  ...new Set([
    ...calledOrigins(profile),
    ...originsOf(
      Object.values(profile.modes).flatMap(({ dashboard, authorize, paymentPage, origins = [] }) => [
        ...[dashboard, authorize, paymentPage],
        ...origins,
      ]),
    ),
    ...frameOrigins(profile),
  ]),
];

/** Whether a call alone can prove this field. */
export const provenByCall = (field: ProfileField) => field.provenBy === "call";

/** The page of one payment in its provider's dashboard; null where the profile names none, or the provider knows none. */
export function paymentPageOf(
  { modes }: Pick<Profile, "modes">,
  mode: Mode,
  { ref, reference }: { ref: string | null; reference: string },
): string | null {
  const page = modes[mode].paymentPage;
  if (!page || (ref === null && page.includes("{ref}"))) return null;
  return page
    .replaceAll("{ref}", encodeURIComponent(ref ?? ""))
    .replaceAll("{reference}", encodeURIComponent(reference));
}

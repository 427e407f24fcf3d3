import {
  type Authentication,
  calledOrigins,
  frameOrigins,
  knownOrigins,
  type OperationName,
  type Profile,
  type Signing,
} from "./profile";

/** What a document would let a provider do, for a person who decides whether to install it. */
export interface PlainWords {
  who: string[];
  calls: string[];
  shows: string[];
  asksFor: string[];
  can: string[];
}

export const operationWords: Partial<Record<OperationName, string>> = {
  create: "take payments",
  capture: "capture what is held",
  void: "let go of what is held",
  refund: "refund",
  list: "list payments",
  registerWebhook: "register its webhook by itself",
  checkDomain: "look at the shop’s domain",
  requestToken: "ask the shopper’s device for one payment",
  readToken: "read what the shopper decided there",
  dropToken: "take such a request back",
  actForShopper: "play the shopper in the sandbox",
};
const kinds = {
  card: "cards",
  "account-wallet": "an account wallet",
  "code-wallet": "a code wallet",
  "device-wallet": "a device wallet",
  instalments: "instalments",
  "direct-debit": "direct debit",
};

const authenticationWords: Record<Authentication["scheme"], string> = {
  bearer: "a key in each request",
  basic: "a name and a password in each request",
  header: "a key in a header of each request",
  "oauth2-client-credentials": "a token that is fetched with a name and a secret (OAuth 2.0)",
  "keyed-digest": "a digest over what is asked, made with a secret that is never sent",
};
const signingWords: Record<Signing["scheme"], string> = {
  "standard-webhooks": "a secret that Zahlung makes (Standard Webhooks)",
  "http-message-signature": "a signature over message and address (RFC 9421)",
  "detached-jws": "a signature with keys that it publishes (JWS)",
  "keyed-digest": "a digest over their fields, made with a secret",
};

/** Says in plain words who a profile describes, which hosts it calls, what it asks for and what it can do. */
export function plainWords(profile: Profile): PlainWords {
  const { authentication, webhooks, browser } = profile;
  const methods = profile.methods.map(
    (method) => `${method.name} (${kinds[method.kind]}) in ${method.currencies.join(", ")}`,
  );
  const only = knownOrigins(profile).filter((origin) => !calledOrigins(profile).includes(origin));
  return {
    who: [
      `${profile.name}, profile ${profile.version}. ${profile.about}`,
      `It offers ${methods.join("; ")}, to merchants in ${profile.merchantCountries.join(", ")}.`,
    ],
    calls: calledOrigins(profile),
    shows: [
      ...frameOrigins(profile).map((origin) => `${origin}, in a frame on the checkout`),
      ...only
        .filter((origin) => !frameOrigins(profile).includes(origin))
        .map((origin) => `${origin}, as a link`),
      ...(browser.kind === "redirect" ? ["Shoppers are led to the provider’s own page to pay."] : []),
    ],
    asksFor: profile.fields.map(({ label, secret, shownOnce }) =>
      [
        label,
        secret ? "a secret, kept sealed" : "kept in the open",
        shownOnce ? "shown only once over there" : "",
      ]
        .filter(Boolean)
        .join(", "),
    ),
    can: [
      ...Object.keys(profile.operations).flatMap((name) => operationWords[name as OperationName] ?? []),
      `be asked with ${authenticationWords[authentication.scheme]}`,
      webhooks
        ? `send messages, which are believed by ${signingWords[webhooks.signing.scheme]}`
        : "send no messages; it is asked instead",
    ],
  };
}

/** What differs between two versions of a profile: each line that one has and the other has not. */
export function differences(before: Profile, after: Profile): { gone: string[]; new: string[] } {
  const lines = (profile: Profile) => flat(profile, "");
  const [was, is] = [lines(before), lines(after)];
  const text = ([path, value]: [string, string]) => `${path}: ${value}`;
  return {
    gone: [...was].filter(([path, value]) => is.get(path) !== value).map(text),
    new: [...is].filter(([path, value]) => was.get(path) !== value).map(text),
  };
}

function flat(value: unknown, path: string): Map<string, string> {
  if (typeof value !== "object" || value === null) return new Map([[path, String(value)]]);
  if (Array.isArray(value) && value.every((one) => typeof one !== "object"))
    return new Map([[path, value.join(", ")]]);
  return new Map(
    Object.entries(value).flatMap(([key, one]) => [...flat(one, path ? `${path}.${key}` : key)]),
  );
}

import { type Said, countries, said } from "../said";
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
  who: Said[];
  calls: string[];
  shows: Said[];
  asksFor: Said[];
  can: Said[];
}

/** What of its operations somebody should know before it is installed. */
export const operationWords = {
  create: said("plain-words.take-payments"),
  confirm: said("plain-words.confirm-payments"),
  capture: said("plain-words.capture-what-held"),
  void: said("plain-words.let-go-what-held"),
  release: said("plain-words.release-part"),
  refund: said("plain-words.refund"),
  answerDispute: said("plain-words.answer-disputes"),
  acceptDispute: said("plain-words.accept-disputes"),
  listDisputes: said("plain-words.list-disputes"),
  decideReview: said("plain-words.decide-reviews"),
  quote: said("plain-words.quote"),
  forget: said("plain-words.forget"),
  list: said("plain-words.list-payments"),
  listPayouts: said("plain-words.list-payouts"),
  registerWebhook: said("plain-words.register-webhook-itself"),
  checkDomain: said("plain-words.look-shops-domain"),
  requestToken: said("plain-words.ask-shoppers-device-one"),
  readToken: said("plain-words.read-what-shopper-decided"),
  dropToken: said("plain-words.take-such-request-back"),
  openSession: said("plain-words.open-sessions"),
  actForShopper: said("plain-words.play-shopper-sandbox"),
} satisfies Partial<Record<OperationName, Said>>;

const isTold = (name: string): name is keyof typeof operationWords => Object.hasOwn(operationWords, name);

const authenticationWords: Record<Authentication["scheme"], Said> = {
  bearer: said("plain-words.key-each-request"),
  basic: said("plain-words.name-password-each-request"),
  header: said("plain-words.key-header-each-request"),
  "oauth2-client-credentials": said("plain-words.token-fetched-name-secret"),
  "keyed-digest": said("plain-words.digest-over-what-asked"),
};
const signingWords: Record<Signing["scheme"], Said> = {
  "standard-webhooks": said("plain-words.secret-zahlung-makes-standard"),
  "http-message-signature": said("plain-words.signature-over-message-address"),
  "detached-jws": said("plain-words.signature-keys-publishes-jws"),
  "keyed-digest": said("plain-words.digest-over-their-fields"),
};

/** Says in plain words who a profile describes, which hosts it calls, what it asks for and what it can do. */
export function plainWords(profile: Profile): PlainWords {
  const { authentication, webhooks, browser } = profile;
  const methods = profile.methods.map((method) =>
    said("plain-words.method", {
      name: method.name,
      kind: said(`plain-words.kind.${method.kind}`),
      currencies: method.currencies,
    }),
  );
  const only = knownOrigins(profile).filter((origin) => !calledOrigins(profile).includes(origin));
  return {
    who: [
      said("plain-words.profile", { name: profile.name, version: profile.version, about: profile.about }),
      said("plain-words.offers-merchants", { methods, countries: countries(profile.merchantCountries) }),
    ],
    calls: calledOrigins(profile),
    shows: [
      ...frameOrigins(profile).map((origin) => said("plain-words.frame-checkout", { origin })),
      ...only
        .filter((origin) => !frameOrigins(profile).includes(origin))
        .map((origin) => said("plain-words.as-link", { origin })),
      ...(browser.kind === "redirect" ? [said("plain-words.shoppers-led-providers-own")] : []),
    ],
    asksFor: profile.fields.map(({ label, secret, shownOnce }) =>
      said("plain-words.field", {
        label,
        secret: secret ? "yes" : "no",
        shownOnce: shownOnce ? "yes" : "no",
      }),
    ),
    can: [
      ...Object.keys(profile.operations)
        .filter(isTold)
        .map((name) => operationWords[name]),
      said("plain-words.asked", { how: authenticationWords[authentication.scheme] }),
      webhooks
        ? said("plain-words.send-messages-believed", { how: signingWords[webhooks.signing.scheme] })
        : said("plain-words.send-no-messages-asked"),
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

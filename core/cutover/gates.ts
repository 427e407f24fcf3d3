import type { Step } from "../track";

/** One condition that must hold before live, decided now from what is recorded. */
export interface Gate {
  id: string;
  title: string;
  open: boolean;
  /** What proves it, or what is missing, in words. */
  says: string;
  /** When the proof was won, milliseconds; where there is one. */
  at?: number;
  /** Where to go to mend it. */
  station: Step["station"];
}

/** Everything the gates of one connection on one storefront look at. */
export interface GateEvidence {
  keys: { proven: boolean; at?: number; missing: string[]; stale: boolean };
  /** True when a live value equals the test value of the same field. */
  keysSharedWithTest: string[];
  account: { mayCharge: boolean; because?: string; charges: string[]; at?: number } | null;
  currencies: readonly string[];
  /** Null where the provider sends none. */
  webhook: { proven: boolean; at?: number; stale: boolean } | null;
  /** The provider's own look at the shop's domain, with what it said; null where it wants none. */
  domain: { proven: boolean; says: string | null; at?: number } | null;
  /** The live connection that a device wallet rides on; null for all that move money themselves. */
  carrier: { name: string | null } | null;
  /** `statement` is null where the provider is sent none. */
  offer: { present: boolean; wordingMissing: string[]; statement: boolean | null };
  cases: {
    required: number;
    green: number;
    missing: string[];
    stale: string[];
    failed: string[];
    at?: number;
  };
  /** States that may occur and have no stage, in words. */
  unmappedStates: readonly string[];
  /** What else serves the same in live: offers that give way, or such as go live in the same movement. Null: nothing. */
  place: { givesWay: string[]; clashes: string[] } | null;
  shopCalledLive: { at: number } | null;
}

const list = (words: readonly string[]) => words.join(", ");

const gate = (
  id: string,
  title: string,
  station: Step["station"],
  open: boolean,
  yes: string,
  no: string,
  at?: number,
): Gate => ({ id, title, station, open, says: open ? yes : no, ...(open && at !== undefined && { at }) });

const webhookGate = (webhook: GateEvidence["webhook"]): Gate[] =>
  webhook
    ? [
        gate(
          "live-webhook",
          "Live webhook proven by a real message",
          "connect",
          webhook.proven && !webhook.stale,
          "A signed message has arrived.",
          webhook.stale ? "The proof is older than the address or secret." : "No signed message has arrived.",
          webhook.at,
        ),
      ]
    : [];

const domainGate = (domain: GateEvidence["domain"]): Gate[] =>
  domain
    ? [
        gate(
          "live-domain",
          "The provider has seen the shop’s domain",
          "connect",
          domain.proven,
          "It found its live file there.",
          domain.says ? `It says: ${domain.says}.` : "It has not been asked to look with its live file.",
          domain.at,
        ),
      ]
    : [];

const carrierGate = (carrier: GateEvidence["carrier"]): Gate[] =>
  carrier
    ? [
        gate(
          "carrier",
          "The card connection that it rides on is live",
          "cut-over",
          carrier.name !== null,
          `It rides on ${carrier.name ?? ""}.`,
          "No card offer that takes its tokens is live here. Cut that over first.",
        ),
      ]
    : [];

const placeGate = (place: GateEvidence["place"]): Gate[] =>
  place
    ? [
        gate(
          "place",
          "One provider for each in live",
          "offer",
          place.clashes.length === 0,
          `It takes the place of ${list(place.givesWay)}, which shoppers are no longer shown from then on.`,
          `${list(place.clashes)} cannot go live beside it. Cut over one of them.`,
        ),
      ]
    : [];

/** Decides every gate. The lever moves only when all are open. */
export function decideGates(e: GateEvidence): Gate[] {
  const keysOk = e.keys.proven && !e.keys.stale;
  const missingCurrencies = e.currencies.filter((one) => !e.account?.charges.includes(one));
  const casesNo = [
    e.cases.failed.length ? `Failed: ${list(e.cases.failed)}.` : "",
    e.cases.stale.length ? `Stale: ${list(e.cases.stale)}.` : "",
    e.cases.missing.length ? `Not run: ${list(e.cases.missing)}.` : "",
  ].filter(Boolean);
  return [
    gate(
      "live-keys",
      "Live keys proven",
      "connect",
      keysOk,
      "A call with them read the account back.",
      e.keys.missing.length
        ? `Missing: ${list(e.keys.missing)}.`
        : e.keys.stale
          ? "The proof is older than the keys."
          : "They have not been proven.",
      e.keys.at,
    ),
    gate(
      "keys-apart",
      "Live keys are not the test keys",
      "connect",
      keysOk && e.keysSharedWithTest.length === 0,
      "No value stands in both columns.",
      e.keysSharedWithTest.length
        ? `The same in both columns: ${list(e.keysSharedWithTest)}.`
        : "There are no proven live keys to compare.",
    ),
    gate(
      "account",
      "The live account may charge",
      "connect",
      keysOk && e.account?.mayCharge === true,
      "The provider says so.",
      e.account && !e.account.mayCharge
        ? `The provider says no${e.account.because ? `: ${e.account.because}` : "."}`
        : "The live account has not been read.",
      e.account?.at,
    ),
    gate(
      "currency",
      "The live account charges the storefront’s currencies",
      "connect",
      keysOk && e.account !== null && missingCurrencies.length === 0,
      `It charges ${list(e.currencies)}.`,
      e.account ? `It cannot charge ${list(missingCurrencies)}.` : "The live account has not been read.",
      e.account?.at,
    ),
    ...webhookGate(e.webhook),
    ...domainGate(e.domain),
    ...carrierGate(e.carrier),
    ...placeGate(e.place),
    gate(
      "cases",
      "Required cases passed in test, and still fresh",
      "rehearse",
      e.cases.required > 0 && casesNo.length === 0,
      `${e.cases.green} of ${e.cases.required} green.`,
      casesNo.join(" ") || "There is no offer to rehearse.",
      e.cases.at,
    ),
    gate(
      "wording",
      e.offer.statement === null ? "Wording present" : "Wording and statement text present",
      "offer",
      e.offer.present && e.offer.wordingMissing.length === 0 && e.offer.statement !== false,
      "In every language of the storefront.",
      !e.offer.present
        ? "Nothing is offered yet."
        : [
            e.offer.wordingMissing.length ? `No wording in: ${list(e.offer.wordingMissing)}.` : "",
            e.offer.statement === false ? "The statement text is empty." : "",
          ]
            .filter(Boolean)
            .join(" "),
    ),
    gate(
      "stages",
      "Every payment state has an order stage",
      "offer",
      e.offer.present && e.unmappedStates.length === 0,
      "The shop knows what each of them means.",
      e.offer.present ? `No stage for: ${list(e.unmappedStates)}.` : "Nothing is offered yet.",
    ),
    gate(
      "shop-key",
      "The shop has called with its live key",
      "shop",
      e.shopCalledLive !== null,
      "Its live key is in use.",
      "It has not called with a live key. Put one into the shop; any call counts.",
      e.shopCalledLive?.at,
    ),
  ];
}

export const mayCutOver = (gates: readonly Gate[]) => gates.length > 0 && gates.every((gate) => gate.open);

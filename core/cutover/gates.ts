import { type Said, said, sentences, type SaidValue, type Told } from "../said";
import type { Step } from "../track";

/** One condition that must hold before live, decided now from what is recorded. */
export interface Gate {
  id: string;
  title: Said;
  open: boolean;
  /** What proves it, or what is missing, in words. */
  says: Said;
  /** When the proof was won, milliseconds; where there is one. */
  at?: number;
  /** Where to go to mend it. */
  station: Step["station"];
}

/** Everything the gates of one connection on one storefront look at. */
export interface GateEvidence {
  keys: { proven: boolean; at?: number; missing: Told[]; stale: boolean };
  /** True when a live value equals the test value of the same field. */
  keysSharedWithTest: string[];
  account: { mayCharge: boolean; because?: string; charges: string[]; at?: number } | null;
  currencies: readonly string[];
  /** Null where the provider sends none. */
  webhook: { proven: boolean; at?: number; stale: boolean } | null;
  /** The provider's own look at the shop's domain, with what it said; null where it wants none. */
  domain: { proven: boolean; says: Told | null; at?: number } | null;
  /** The live connection that a device wallet rides on; null for all that move money themselves. */
  carrier: { name: string | null } | null;
  /** `statement` is null where the provider is sent none. */
  offer: { present: boolean; wordingMissing: SaidValue[]; statement: boolean | null };
  cases: {
    required: number;
    green: number;
    missing: Told[];
    stale: Told[];
    failed: Told[];
    at?: number;
  };
  /** States that may occur and have no stage, in words. */
  unmappedStates: readonly Told[];
  /** What else serves the same in live: offers that give way, or such as go live in the same movement. Null: nothing. */
  place: { givesWay: Told[]; clashes: Told[] } | null;
  shopCalledLive: { at: number } | null;
}

const gate = (
  id: string,
  title: Said,
  station: Step["station"],
  open: boolean,
  yes: Said,
  no: Said,
  at?: number,
): Gate => ({ id, title, station, open, says: open ? yes : no, ...(open && at !== undefined && { at }) });

const webhookGate = (webhook: GateEvidence["webhook"]): Gate[] =>
  webhook
    ? [
        gate(
          "live-webhook",
          said("gates.live-webhook-proven-real"),
          "connect",
          webhook.proven && !webhook.stale,
          said("gates.signed-message-arrived"),
          webhook.stale ? said("gates.proof-older-than-address") : said("gates.no-signed-message-arrived"),
          webhook.at,
        ),
      ]
    : [];

const domainGate = (domain: GateEvidence["domain"]): Gate[] =>
  domain
    ? [
        gate(
          "live-domain",
          said("gates.provider-seen-shops-domain"),
          "connect",
          domain.proven,
          said("gates.found-live-file"),
          domain.says ? said("gates.domain-says", { says: domain.says }) : said("gates.not-asked-look-live"),
          domain.at,
        ),
      ]
    : [];

const carrierGate = (carrier: GateEvidence["carrier"]): Gate[] =>
  carrier
    ? [
        gate(
          "carrier",
          said("gates.card-connection-rides-live"),
          "cut-over",
          carrier.name !== null,
          said("gates.rides", { carrier: carrier.name ?? "" }),
          said("gates.no-card-offer-takes"),
        ),
      ]
    : [];

const placeGate = (place: GateEvidence["place"]): Gate[] =>
  place
    ? [
        gate(
          "place",
          said("gates.one-provider-each-live"),
          "offer",
          place.clashes.length === 0,
          said("gates.takes-place-shoppers-no", { others: place.givesWay }),
          said("gates.cannot-go-live-beside", { others: place.clashes }),
        ),
      ]
    : [];

/** Decides every gate. The lever moves only when all are open. */
export function decideGates(e: GateEvidence): Gate[] {
  const keysOk = e.keys.proven && !e.keys.stale;
  const missingCurrencies = e.currencies.filter((one) => !e.account?.charges.includes(one));
  const casesNo = [
    e.cases.failed.length ? said("gates.failed", { cases: e.cases.failed }) : null,
    e.cases.stale.length ? said("gates.stale", { cases: e.cases.stale }) : null,
    e.cases.missing.length ? said("gates.not-run", { cases: e.cases.missing }) : null,
  ].filter((one) => one !== null);
  return [
    gate(
      "live-keys",
      said("gates.live-keys-proven"),
      "connect",
      keysOk,
      said("gates.call-read-account-back"),
      e.keys.missing.length
        ? said("gates.missing", { fields: e.keys.missing })
        : e.keys.stale
          ? said("gates.proof-older-than-keys")
          : said("gates.not-proven"),
      e.keys.at,
    ),
    gate(
      "keys-apart",
      said("gates.live-keys-not-test"),
      "connect",
      keysOk && e.keysSharedWithTest.length === 0,
      said("gates.no-value-stands-both"),
      e.keysSharedWithTest.length
        ? said("gates.same-both-columns", { fields: e.keysSharedWithTest })
        : said("gates.no-proven-live-keys"),
    ),
    gate(
      "account",
      said("gates.live-account-may-charge"),
      "connect",
      keysOk && e.account?.mayCharge === true,
      said("gates.provider-says-so"),
      e.account && !e.account.mayCharge
        ? said("gates.provider-says-no", {
            hasReason: e.account.because ? "yes" : "no",
            reason: e.account.because ?? "",
          })
        : said("gates.live-account-not-read"),
      e.account?.at,
    ),
    gate(
      "currency",
      said("gates.live-account-charges-storefronts"),
      "connect",
      keysOk && e.account !== null && missingCurrencies.length === 0,
      said("gates.charges", { currencies: e.currencies }),
      e.account
        ? said("gates.cannot-charge", { currencies: missingCurrencies })
        : said("gates.live-account-not-read"),
      e.account?.at,
    ),
    ...webhookGate(e.webhook),
    ...domainGate(e.domain),
    ...carrierGate(e.carrier),
    ...placeGate(e.place),
    gate(
      "cases",
      said("gates.required-cases-passed-test"),
      "rehearse",
      e.cases.required > 0 && casesNo.length === 0,
      said("gates.green", { green: e.cases.green, required: e.cases.required }),
      casesNo.length > 0 ? sentences(casesNo) : said("gates.no-offer-rehearse"),
      e.cases.at,
    ),
    gate(
      "wording",
      e.offer.statement === null
        ? said("gates.wording-present")
        : said("gates.wording-statement-text-present"),
      "offer",
      e.offer.present && e.offer.wordingMissing.length === 0 && e.offer.statement !== false,
      said("gates.every-language-storefront"),
      !e.offer.present
        ? said("gates.nothing-offered-yet")
        : sentences(
            [
              e.offer.wordingMissing.length
                ? said("gates.no-wording", { languages: e.offer.wordingMissing })
                : null,
              e.offer.statement === false ? said("gates.statement-text-empty") : null,
            ].filter((one) => one !== null),
          ),
    ),
    gate(
      "stages",
      said("gates.every-payment-state-order"),
      "offer",
      e.offer.present && e.unmappedStates.length === 0,
      said("gates.shop-knows-what-each"),
      e.offer.present
        ? said("gates.no-stage", { states: e.unmappedStates })
        : said("gates.nothing-offered-yet"),
    ),
    gate(
      "shop-key",
      said("gates.shop-called-live-key"),
      "shop",
      e.shopCalledLive !== null,
      said("gates.live-key-use"),
      said("gates.not-called-live-key"),
      e.shopCalledLive?.at,
    ),
  ];
}

export const mayCutOver = (gates: readonly Pick<Gate, "open">[]) =>
  gates.length > 0 && gates.every((gate) => gate.open);

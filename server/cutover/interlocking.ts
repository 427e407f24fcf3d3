import { type Change, changesBetween } from "#core/cutover/changes";
import { decideGates, type Gate, type GateEvidence, mayCutOver } from "#core/cutover/gates";
import { checkStatement } from "#core/offers/statement";
import { occurringStates, unmappedStates } from "#core/payments/stages";
import { methodOf, ridesAlong } from "#core/profiles/profile";
import { domainProven, keysProven, type Standing, webhookProven } from "./standing";

export interface Interlocking {
  gates: Gate[];
  open: boolean;
  /** Differences between what live runs and what it would run, with the offer's wording. */
  changes: (Change & { offer: string })[];
  /** What the lever moves, to be sent back with the press: it is refused when this has changed since. */
  revisionIds: string[];
}

/** Decides the gates of a connection from where it stands, and lists exactly what a cutover would change. */
export function interlockingFrom(standing: Standing): Interlocking {
  const gates = decideGates(evidenceFrom(standing));
  const mine = standing.offers.map((one) => one.offer);
  const changes = mine.flatMap((one) =>
    changesBetween(one.live?.document, one.working.document).map((change) => ({
      ...change,
      offer: Object.values(one.working.document.wording)[0]?.label ?? one.offer.methodId,
    })),
  );
  return { gates, open: mayCutOver(gates), changes, revisionIds: mine.map((one) => one.working.id).sort() };
}

function evidenceFrom(standing: Standing): GateEvidence {
  const { storefront, offers, live } = standing;
  const documents = offers.map((one) => one.offer.working.document);
  const sold = documents.flatMap((one) => (one.currencies.length ? one.currencies : storefront.currencies));
  return {
    ...keyEvidence(standing),
    currencies: [...new Set(sold)],
    webhook: standing.profile.webhooks
      ? {
          proven: webhookProven(standing, live),
          stale: false,
          ...(live.endpoint.provenAt && { at: live.endpoint.provenAt }),
        }
      : null,
    domain: standing.profile.file
      ? {
          proven: domainProven(standing, live),
          says: live.file?.provider?.says ?? null,
          ...(live.file?.lookedAt && { at: live.file.lookedAt }),
        }
      : null,
    carrier: ridesAlong(standing.profile) ? { name: standing.carriedLive } : null,
    offer: {
      present: offers.length > 0,
      wordingMissing: storefront.languages.filter((language) =>
        documents.some((one) => !one.wording[language]?.label.trim()),
      ),
      statement: documents.every(
        (one) =>
          one.statement !== "" &&
          !checkStatement(one.statement, storefront.name).some((finding) => finding.blocking),
      ),
    },
    cases: caseEvidence(standing),
    unmappedStates: statesWithoutStage(standing),
    shopCalledLive: standing.shopCalledLive ? { at: standing.shopCalledLive } : null,
  };
}

function keyEvidence(standing: Standing): Pick<GateEvidence, "keys" | "keysSharedWithTest" | "account"> {
  const { live, test, profile } = standing;
  const { keys, check, fresh } = live;
  const { fields } = profile;
  const label = (id: string) => fields.find((field) => field.id === id)?.label ?? id;
  const missing = fields.filter((field) => !keys?.values[field.id]).map((field) => field.label);
  const shared = fields.filter((field) => {
    const digest = field.secret ? keys?.values[field.id]?.digest : undefined;
    return digest !== undefined && digest === test.keys?.values[field.id]?.digest;
  });
  return {
    keys: {
      proven: keysProven(standing, live),
      stale: check !== null && !fresh,
      missing: missing.length
        ? missing
        : Object.keys(check?.wrong ?? {}).map((id) => `${label(id)} (refused)`),
      ...(check && { at: check.at }),
    },
    keysSharedWithTest: shared.map((field) => field.label),
    account: check?.account
      ? {
          mayCharge: check.account.mayCharge,
          ...(check.account.because && { because: check.account.because }),
          charges: check.account.currencies.map((entry) => entry.charged),
          at: check.at,
        }
      : null,
  };
}

function caseEvidence({ offers }: Standing): GateEvidence["cases"] {
  const counts = offers.map((one) => one.cases);
  const times = counts.flatMap((count) => (count.at ? [count.at] : []));
  const sum = (pick: (one: (typeof counts)[number]) => number) =>
    counts.reduce((total, count) => total + pick(count), 0);
  return {
    required: sum((one) => one.required),
    green: sum((one) => one.green),
    missing: counts.flatMap((count) => count.missing),
    stale: counts.flatMap((count) => count.stale),
    failed: counts.flatMap((count) => count.failed),
    ...(times.length > 0 && { at: Math.max(...times) }),
  };
}

function statesWithoutStage({ offers, storefront }: Standing): string[] {
  const states = offers.flatMap(({ offer }) => {
    const method = methodOf(offer.profile, offer.offer.methodId);
    const can = { refund: method?.refund ?? false, partialRefund: method?.partialRefund ?? false };
    const { capture, stages } = offer.working.document;
    return unmappedStates(occurringStates(capture, can), stages, storefront.stages);
  });
  return [...new Set(states)];
}

import { type Said, said, type SaidValue, type Told } from "#core/said";
import { type OfferChange, offerChanges } from "#core/offers/changes";
import { decideGates, type Gate, type GateEvidence, mayCutOver } from "#core/cutover/gates";
import { checkStatement } from "#core/offers/statement";
import { stateWords } from "#core/payments/facts";
import { occurringStates, unmappedStates } from "#core/payments/stages";
import { methodOf, ridesAlong, sendsStatement } from "#core/profiles/profile";
import { versionWords } from "#core/profiles/version-words";
import { nameOf, nameWithAccount } from "../offers/names";
import { carrierOf } from "../offers/carrier";
import { clashIn, inUse, proposedFrom } from "../offers/clash";
import type { OfferWithRevisions } from "../storefronts/now";
import { domainProven, keysProven, type OfferStanding, type Standing, webhookProven } from "./standing";

/** What a cutover of a connection on its storefront would do, and whether it may. */
export interface Interlocking {
  connectionId: string;
  gates: Gate[];
  open: boolean;
  /** Differences between what live runs and what it would run, with the offer's wording. */
  changes: (OfferChange & { offer: string })[];
  /** What differs in plain words between the profile version that live runs and the one it would run. */
  version: { from: string; to: string; differs: Said[] } | null;
  /** Offers that go live, and offers of other connections that give way to them. */
  offers: OfferWithRevisions[];
  replaces: OfferWithRevisions[];
  /** What the lever moves, to be sent back with the press: it is refused when this has changed since. */
  revisionIds: string[];
}

/** Which offers a movement is about; and what else moves with it, which stands beside it in live by then. */
export interface Scope {
  /** Ids of offers; null: every offer of the connection that is not switched off in test. */
  offers: readonly string[] | null;
  beside?: readonly OfferWithRevisions[];
}

/** Offers of a connection that a cutover takes to live: those asked for; one that is switched off in test bars nothing. */
export const movable = ({ offers }: Pick<Standing, "offers">, { offers: ids }: Scope): OfferStanding[] =>
  offers.filter(({ offer: { offer } }) => !offer.offInTest && (ids === null || ids.includes(offer.id)));

/** Decides the gates of a connection from where it stands, and lists exactly what a cutover would change. */
export function interlockingFrom(standing: Standing, scope: Scope = { offers: null }): Interlocking {
  const moving = movable(standing, scope);
  const mine = moving.map((one) => one.offer);
  const beside = scope.beside ?? [];
  const { replaces, clashes } = contestsOf(standing, mine, beside);
  const gates = decideGates({
    ...evidenceFrom(standing, moving, beside),
    place:
      replaces.length + clashes.length > 0
        ? { givesWay: replaces.map(nameWithAccount), clashes: clashes.map(nameWithAccount) }
        : null,
  });
  const changes = mine.flatMap((one) =>
    offerChanges(one.live?.document, one.working.document, standing.now.zones).map((change) => ({
      ...change,
      offer: nameOf(one),
    })),
  );
  return {
    connectionId: standing.connection.id,
    gates,
    open: mayCutOver(gates),
    changes,
    version: versionChange(standing),
    offers: mine,
    replaces,
    revisionIds: [...mine.map((one) => one.working.id), standing.connection.testVersionId].sort(),
  };
}

function versionChange({ pair, versions }: Standing): Interlocking["version"] {
  const { test, live } = versions;
  if (pair.versionId === null || test.id === live.id) return null;
  return {
    from: live.version,
    to: test.version,
    differs: versionWords(live.profile, test.profile),
  };
}

/** Whether a cutover would change anything in live. */
export const wouldChange = ({ pair }: Standing, { changes, version, offers }: Interlocking): boolean =>
  offers.length > 0 &&
  (pair.live !== "live" || changes.length > 0 || version !== null || offers.some((one) => one.live === null));

/** What live offers in the same place: it gives way, unless it goes live in the same movement. */
function contestsOf(
  { now }: Standing,
  mine: readonly OfferWithRevisions[],
  beside: readonly OfferWithRevisions[],
): { replaces: OfferWithRevisions[]; clashes: OfferWithRevisions[] } {
  const isMine = (one: OfferWithRevisions) => mine.includes(one);
  const isMoving = (one: OfferWithRevisions) => beside.includes(one);
  const others = [...new Set([...inUse(now, "live"), ...beside])].filter((one) => !isMine(one));
  const rivals = mine.flatMap((one) => {
    // What goes live is the working revision, of the working version.
    const proposed = { ...proposedFrom(one, "test"), offerId: one.offer.id };
    return clashIn(now.storefront, others, "live", proposed)?.rivals ?? [];
  });
  const once = [...new Set(rivals)];
  return { replaces: once.filter((one) => !isMoving(one)), clashes: once.filter(isMoving) };
}

function evidenceFrom(
  standing: Standing,
  moving: readonly OfferStanding[],
  beside: readonly OfferWithRevisions[],
): Omit<GateEvidence, "place"> {
  const { storefront, live, profile } = standing;
  const documents = moving.map((one) => one.offer.working.document);
  const sold = documents.flatMap((one) => (one.currencies.length ? one.currencies : storefront.currencies));
  return {
    ...keyEvidence(standing),
    currencies: [...new Set(sold)],
    webhook: profile.webhooks
      ? {
          proven: webhookProven(standing, live),
          stale: false,
          ...(live.endpoint.provenAt && { at: live.endpoint.provenAt }),
        }
      : null,
    domain: profile.file
      ? {
          proven: domainProven(standing, live),
          says: live.file?.provider?.says ?? null,
          ...(live.file?.lookedAt && { at: live.file.lookedAt }),
        }
      : null,
    carrier: ridesAlong(profile) ? { name: standing.carriedLive ?? carriedBy(standing, beside) } : null,
    offer: {
      present: moving.length > 0,
      wordingMissing: moving.flatMap(({ offer }) =>
        storefront.languages
          .filter((language) => !offer.working.document.wording[language]?.label.trim())
          .map((language) => ofOffer(moving, offer, { language })),
      ),
      statement: sendsStatement(carrierOf(standing.now, profile, "test")?.offer.profile ?? profile)
        ? documents.every(
            (one) =>
              one.statement !== "" &&
              !checkStatement(one.statement, storefront.name).some((finding) => finding.blocking),
          )
        : null,
    },
    cases: caseEvidence(moving),
    unmappedStates: statesWithoutStage(standing, moving),
    shopCalledLive: standing.shopCalledLive ? { at: standing.shopCalledLive } : null,
  };
}

/** The connection among those that go live together which takes a rider's tokens. */
function carriedBy({ profile }: Standing, beside: readonly OfferWithRevisions[]): string | null {
  const found = beside.find((one) => {
    const method = methodOf(one.profile, one.offer.methodId);
    return method?.kind === profile.ridesOn && method?.takes?.includes(profile.id);
  });
  return found?.connection.name ?? null;
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
        : Object.keys(check?.wrong ?? {}).map((id) => said("interlocking.refused", { field: label(id) })),
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

/** Something about an offer; whose it is, is said where a movement is of several. */
const ofOffer = <T extends SaidValue>(
  moving: readonly OfferStanding[],
  offer: OfferWithRevisions,
  words: T,
): T | Said =>
  moving.length > 1 ? said("interlocking.of-offer", { what: words, offer: nameOf(offer) }) : words;

function caseEvidence(moving: readonly OfferStanding[]): GateEvidence["cases"] {
  const counts = moving.map(({ offer, cases }) => {
    const named = (titles: readonly Said[]) => titles.map((title) => ofOffer(moving, offer, title));
    return {
      ...cases,
      missing: named(cases.missing),
      stale: named(cases.stale),
      failed: named(cases.failed),
    };
  });
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

function statesWithoutStage({ storefront }: Standing, moving: readonly OfferStanding[]): Told[] {
  const states = moving.flatMap(({ offer }) => {
    const method = methodOf(offer.profile, offer.offer.methodId);
    const can = { refund: method?.refund ?? false, partialRefund: method?.partialRefund ?? false };
    const { capture, stages } = offer.working.document;
    return unmappedStates(occurringStates(capture, can), stages, storefront.stages).map((state) =>
      ofOffer(moving, offer, stateWords(state)),
    );
  });
  return states;
}

import { type AlikePart, setAlike } from "#core/offers/alike";
import { type OfferChange, offerChanges } from "#core/offers/changes";
import type { OfferDocument } from "#core/offers/offer";
import { type Problem, problem, type Said, said } from "#core/said";
import { changeSettings } from "../audit/audit";
import type { Runtime } from "../runtime";
import { type AnyOffer, anyOfferIn, type StorefrontNow } from "../storefronts/now";
import { alone } from "./alone";
import { carriedOn, fits } from "./following";
import { nameOf } from "./names";
import { newRevision } from "./terms";

// Parts of one offer are set the same for others of its storefront, all of them in one act.

/** What setting parts alike comes to for one offer. */
export interface AlikeLine {
  offerId: string;
  name: string;
  /** The working revision that it would follow. */
  revision: number;
  changes: OfferChange[];
  /** Why it cannot take them; then it changes nothing. */
  problems: Problem[];
}

/** Which parts of which offer, and for which others. */
export interface AlikeWish {
  source: string;
  targets: readonly string[];
  parts: readonly AlikePart[];
}

function lineOf(now: StorefrontNow, source: AnyOffer, one: AnyOffer, parts: readonly AlikePart[]) {
  const document = setAlike(source.working.document, one.working.document, parts);
  const reading = fits(now, one, document);
  const line: AlikeLine = {
    ...{ offerId: one.offer.id, name: nameOf(one), revision: one.working.number },
    changes: offerChanges(one.working.document, document, now.zones),
    problems: reading.ok ? [] : reading.problems,
  };
  return { one, line, document: reading.ok ? reading.value : null };
}

/** Each is held against the others as they would be by then: two that fit alone may not fit together. */
function linesOf(now: StorefrontNow, source: AnyOffer, { targets, parts }: AlikeWish) {
  let then = now;
  return now.inOrder
    .filter(({ offer }) => offer.id !== source.offer.id && targets.includes(offer.id))
    .map((one) => {
      const line = lineOf(then, source, one, parts);
      if (line.document) then = withDocument(then, one.offer.id, line.document);
      return line;
    });
}

/** A storefront as it stands once an offer of it says something else. */
function withDocument(now: StorefrontNow, offerId: string, document: OfferDocument): StorefrontNow {
  const put = <One extends AnyOffer>(one: One): One =>
    one.offer.id === offerId ? { ...one, working: { ...one.working, document } } : one;
  return { ...now, offers: now.offers.map(put), inOrder: now.inOrder.map(put) };
}

/** What a wish would change, offer by offer, in the order that shoppers see them; null where its source is gone. */
export function previewAlike(now: StorefrontNow, wish: AlikeWish): AlikeLine[] | null {
  const source = anyOfferIn(now, wish.source);
  return source && linesOf(now, source, wish).map(({ line }) => line);
}

export type SetAlike =
  /** `left`: storefronts whose offer follows one of them and could not take the change, each with why. */
  { ok: true; saved: number; left: Said[] } | { ok: false; problems: Problem[] };

/**
 * Saves a new working revision of each offer that parts of another change, all of them or none. `seen` is the working
 * revision of each, the source too, that whoever asks has looked at; where one has gone on since, nothing is saved.
 */
export const saveAlike = (
  rt: Runtime,
  person: string,
  storefrontId: string,
  wish: AlikeWish,
  seen: Readonly<Record<string, number>>,
): Promise<SetAlike> =>
  alone(rt, storefrontId, async ({ now, guards }) => {
    const source = anyOfferIn(now, wish.source);
    if (!source) return { ok: false, problems: [problem("source", "offers.offer-removed")] };
    const lines = linesOf(now, source, wish).filter(({ line }) => line.changes.length > 0);
    const moved = [source, ...lines.map(({ one }) => one)].find(
      ({ offer, working }) => seen[offer.id] !== working.number,
    );
    if (moved) {
      const { person: who, number } = moved.working;
      const says = said("offers.overtaken", { offer: nameOf(moved), person: who, number });
      return { ok: false, problems: [{ path: moved.offer.id, ...says }] };
    }
    const refused = lines.find(({ document }) => document === null);
    if (refused) return { ok: false, problems: refused.line.problems };
    const guarded = new Set<string>();
    const carried = [];
    for (const { one, document } of lines)
      if (document)
        carried.push({ one, document, followers: await carriedOn(rt, person, one, document, guarded) });
    if (carried.length > 0)
      await changeSettings(
        rt,
        carried.map(({ one, followers }) => ({
          ...{ person, action: "offer set alike", subject: one.offer.id },
          detail: {
            ...{ revision: one.working.number + 1, as: source.offer.id, parts: wish.parts.join(", ") },
            ...(followers.taken.length > 0 && { followers: followers.taken }),
          },
        })),
        [
          ...guards,
          ...carried.flatMap(({ one, document, followers }) => [
            ...newRevision(rt, person, one.offer.id, one.working.number + 1, document),
            ...followers.statements,
          ]),
        ],
      );
    return { ok: true, saved: carried.length, left: carried.flatMap(({ followers }) => followers.left) };
  });

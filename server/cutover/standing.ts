import type { Mode } from "#core/mode";
import {
  type ConnectionWithProfile,
  currentEndpoint,
  currentKeySet,
  type Endpoint,
  type KeySet,
} from "../connections/connections";
import { type KeyCheck, latestCheck, messageProves, provesAll } from "../connections/proving";
import { type DomainFile, domainFileOf } from "../connections/domain";
import { carrierOf } from "../offers/carrier";
import { type OfferWithRevisions, offersOf } from "../offers/offers";
import { partsFrom } from "../offers/parts";
import { type Board, boardWith, type CaseCount, countCases } from "../rehearsal/board";
import type { Runtime } from "../runtime";
import { shopLastCalled, type Storefront } from "../storefronts/storefronts";

/** What is recorded of a connection's keys and webhook in one mode. */
export interface Side {
  keys: KeySet | null;
  check: KeyCheck | null;
  /** Whether the check is of the keys that are there now. */
  fresh: boolean;
  endpoint: Endpoint;
  file: DomainFile | null;
}

export interface OfferStanding {
  offer: OfferWithRevisions;
  board: Board;
  cases: CaseCount;
}

/** All that is recorded of one connection on one storefront, read once: gates and track are readings of it. */
export interface Standing extends ConnectionWithProfile, Record<Mode, Side> {
  storefront: Storefront;
  offers: OfferStanding[];
  shopCalledLive: number | null;
  /** The live connection that a device wallet rides on; null where there is none, or it rides on nothing. */
  carriedLive: string | null;
}

/** Reads where a connection stands. `all` may bring the storefront's offers when they have been read already. */
export async function standingOf(
  rt: Runtime,
  where: ConnectionWithProfile,
  storefront: Storefront,
  all?: readonly OfferWithRevisions[],
): Promise<Standing> {
  const { id } = where.connection;
  const wantsFileOn = where.profile.file ? storefront.id : null;
  const [test, live, called, offers] = await Promise.all([
    sideOf(rt, id, "test", wantsFileOn),
    sideOf(rt, id, "live", wantsFileOn),
    shopLastCalled(rt, storefront.id, "live"),
    all ?? offersOf(rt, storefront.id),
  ]);
  const carrier = await carrierOf(rt, offers, where.profile, "live");
  const mine = offers.filter((one) => one.connection.id === id);
  return {
    ...where,
    storefront,
    test,
    live,
    shopCalledLive: called,
    carriedLive: carrier?.offer.connection.name ?? null,
    offers: await Promise.all(
      mine.map(async (offer) => {
        const carrier = await carrierOf(rt, offers, offer.profile, "test");
        const parts = partsFrom(offer, test.keys, test.endpoint, carrier);
        const board = await boardWith(rt, offer, parts, carrier);
        return { offer, board, cases: countCases(board.cells) };
      }),
    ),
  };
}

async function sideOf(
  rt: Runtime,
  connectionId: string,
  mode: Mode,
  wantsFileOn: string | null,
): Promise<Side> {
  const [keys, check, endpoint, file] = await Promise.all([
    currentKeySet(rt, connectionId, mode),
    latestCheck(rt, connectionId, mode),
    currentEndpoint(rt, connectionId, mode),
    wantsFileOn ? domainFileOf(rt, connectionId, mode, wantsFileOn) : null,
  ]);
  return { keys, check, fresh: check !== null && check.keySetId === keys?.id, endpoint, file };
}

/** Whether every field of the profile that a call can prove is proven with the keys that are there now. */
export const keysProven = ({ profile }: ConnectionWithProfile, { check, fresh }: Side): boolean =>
  fresh && check !== null && provesAll(profile, check);

/** Whether the provider found its file on the shop's domain; one that wants none has nothing to prove. */
export const domainProven = ({ profile }: ConnectionWithProfile, { file }: Side): boolean =>
  !profile.file || file?.provider?.ok === true;

/** Whether the provider's messages are believed; one that sends none has nothing to prove. */
export const webhookProven = ({ profile }: ConnectionWithProfile, { keys, endpoint }: Side): boolean =>
  !profile.webhooks || (endpoint.provenAt !== null && messageProves(profile, keys, endpoint));

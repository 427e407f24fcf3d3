import { ToldError } from "#core/said";
import type { Mode } from "#core/mode";
import type { OfferDocument } from "#core/offers/offer";
import {
  addConnection,
  type ConnectionWithProfile,
  connectionOf,
  currentEndpoint,
} from "#server/connections/connections";
import { enterKey } from "#server/connections/keys";
import { pingWebhook, registerWebhook } from "#server/connections/webhook";
import { cutOver, type Moved } from "#server/cutover/cutover";
import { type Interlocking, interlockingFrom } from "#server/cutover/interlocking";
import { standingOf } from "#server/cutover/standing";
import { addOffer, offerOf, saveOffer } from "#server/offers/offers";
import { profileOf } from "#server/profiles/profiles";
import { boardOf } from "#server/rehearsal/boards";
import { startRehearsal } from "#server/rehearsal/run";
import type { Runtime } from "#server/runtime";
import type { Storefront } from "#server/database/rows";
import { mustStand, type OfferWithRevisions } from "#server/storefronts/now";
import { storefrontOf } from "#server/storefronts/storefronts";
import { AtKarvello } from "./karvello";
import { demoOwner } from "./scenario";

/** The demo's steps as an administrator takes them, each through the function that the interface calls. */

export const must = <T>(value: T | null | undefined, what: string): T => {
  if (value === null || value === undefined) throw new Error(`${what} is missing`);
  return value;
};

/** Waits until something holds, or throws with what it was. The longer it takes, the less often it is asked. */
export async function until(
  what: string,
  holds: () => Promise<boolean> | boolean,
  ms = 240_000,
): Promise<void> {
  const begun = Date.now();
  while (!(await holds())) {
    const waited = Date.now() - begun;
    if (waited > ms) throw new Error(`waited in vain: ${what}`);
    await new Promise((resolve) => setTimeout(resolve, Math.min(Math.max(waited / 5, 25), 500)));
  }
}

export interface Connected {
  connectionId: string;
  karvello: AtKarvello;
  keys: Record<Mode, Record<string, string>>;
}

export const whereIs = (rt: Runtime, connectionId: string): Promise<ConnectionWithProfile> =>
  connectionOf(rt, connectionId).then((one) => must(one, "connection"));

export const luvwinkel = (rt: Runtime): Promise<Storefront> =>
  storefrontOf(rt, "luvwinkel-de").then((one) => must(one, "storefront"));

/** The gates as they stand now. */
export const lockedNow = async (rt: Runtime, connectionId: string): Promise<Interlocking> =>
  interlockingFrom(await standingOf(rt, await mustStand(rt, "luvwinkel-de"), connectionId));

/** Throws the lever of a connection on Luvwinkel DE, with what stands there now. */
export const cutOverNow = async (rt: Runtime, person: string, connectionId: string): Promise<Moved> =>
  cutOver(rt, person, "luvwinkel-de", [
    { connectionId, revisionIds: (await lockedNow(rt, connectionId)).revisionIds },
  ]);

/** Takes keys from Karvello's dashboard, enters them for test and live, and proves both webhooks. */
export async function connectKarvello(rt: Runtime, standins: string): Promise<Connected> {
  const karvello = new AtKarvello(standins);
  await karvello.signIn();
  const keys = { test: await karvello.keys("sandbox"), live: await karvello.keys("live") };
  const profile = must(await profileOf(rt, "karvello"), "profile");
  const connectionId = await addConnection(rt, demoOwner.email, { profile, storefrontId: "luvwinkel-de" });
  for (const mode of ["test", "live"] as const) {
    const where = await whereIs(rt, connectionId);
    for (const [field, value] of Object.entries(keys[mode])) {
      const check = await enterKey(rt, demoOwner.email, where, mode, field, value);
      if (!check.ok) throw new ToldError(check.says);
    }
    await registerWebhook(rt, demoOwner.email, where, mode);
    await pingWebhook(rt, where, mode);
    await until(
      `${mode} webhook`,
      async () => (await currentEndpoint(rt, connectionId, mode)).provenAt !== null,
    );
  }
  return { connectionId, karvello, keys };
}

export const cardDocument: OfferDocument = {
  wording: {
    de: { label: "Karte", hint: "Norda, Celesta und Umbra" },
    en: { label: "Card", hint: "Norda, Celesta and Umbra" },
  },
  countries: [],
  currencies: [],
  limits: { EUR: { least: null, greatest: 100_000 } },
  groups: [],
  capture: "at-once",
  authentication: "issuer",
  statement: "LUVWINKEL DRACHEN",
  stages: {
    pending: "Reserved",
    captured: "Paid: to the loft",
    declined: "Refused",
    failed: "Refused",
    cancelled: "Refused",
    expired: "Refused",
    refunded: "Handed back",
    "partly-refunded": "Under question",
  },
};

/** Rehearses what an offer needs before live, and waits for its end. */
export async function rehearse(rt: Runtime, person: string, offerId: string): Promise<void> {
  const board = async () => boardOf(rt, await offerNow(rt, offerId));
  const { cells } = await board();
  const needed = cells.filter((cell) => cell.required).map((cell) => cell.caseId);
  await startRehearsal(rt, person, await offerNow(rt, offerId), needed);
  await until("the rehearsal", async () => (await board()).running === null, 300_000);
}

export const offerNow = (rt: Runtime, offerId: string): Promise<OfferWithRevisions> =>
  offerOf(rt, "luvwinkel-de", offerId).then((one) => must(one, "offer"));

/** Offers the card on the storefront; `change` edits the document. */
export async function offerCard(
  rt: Runtime,
  connectionId: string,
  change: Partial<OfferDocument> = {},
): Promise<string> {
  const storefront = await luvwinkel(rt);
  const where = await whereIs(rt, connectionId);
  const added = await addOffer(rt, demoOwner.email, where, storefront, "card");
  if (!added.ok) throw new ToldError(added.says);
  const offerId = added.id;
  const now = await offerNow(rt, offerId);
  const saved = await saveOffer(
    rt,
    demoOwner.email,
    storefront,
    now,
    { ...cardDocument, ...change },
    now.working.number,
  );
  if (!saved.ok) throw new Error(JSON.stringify(saved));
  return offerId;
}

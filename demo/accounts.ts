import { ToldError } from "#core/said";
import { isMode, type Mode } from "#core/mode";
import type { OfferDocument } from "#core/offers/offer";
import {
  addConnection,
  type ConnectionWithProfile,
  currentEndpoint,
  endpointAddress,
} from "#server/connections/connections";
import { lookAtDomain, takeFile } from "#server/connections/domain";
import { enterKeys } from "#server/connections/keys";
import { pingWebhook, registerWebhook } from "#server/connections/webhook";
import { cutOver } from "#server/cutover/cutover";
import { interlockingFrom, wouldChange } from "#server/cutover/interlocking";
import { standingsOf } from "#server/cutover/standing";
import { addOffer, offerOf, saveOffer } from "#server/offers/offers";
import { profileOf } from "#server/profiles/profiles";
import { startRehearsal } from "#server/rehearsal/run";
import type { Runtime } from "#server/runtime";
import type { Storefront } from "#server/database/rows";
import { mustStand } from "#server/storefronts/now";
import { storefrontOf } from "#server/storefronts/storefronts";
import { type AtDashboard, atDashboard, keysAt } from "./dashboards";
import { must, until, whereIs } from "./play";
import { demoOwner } from "./scenario";

/** Accounts brought onto a storefront as an administrator does it, through the functions that the interface calls. */

const person = demoOwner.email;
const sideOf = (mode: Mode) => (mode === "test" ? "sandbox" : "live");

export interface Account {
  connectionId: string;
  desk: AtDashboard;
  keys: Partial<Record<Mode, Record<string, string>>>;
}

interface Wanted {
  provider: string;
  storefrontId: string;
  /** Whose account it is, where the provider shows several. */
  holder?: string;
  name?: string;
  modes?: readonly Mode[];
}

export const storefrontBy = async (rt: Runtime, id: string): Promise<Storefront> =>
  must(await storefrontOf(rt, id), "storefront");

/** Adds a connection, carries the keys over, and has both sides' messages proven. */
export async function connectAccount(
  rt: Runtime,
  standins: string,
  { provider, storefrontId, holder = "Luvwinkel", name, modes = ["test", "live"] }: Wanted,
): Promise<Account> {
  const desk = await atDashboard(standins, provider);
  const profile = must(await profileOf(rt, provider), "profile");
  const connectionId = await addConnection(rt, person, { profile, storefrontId, ...(name && { name }) });
  const keys: Account["keys"] = {};
  for (const mode of modes.filter(isMode)) {
    const account = await desk.account(sideOf(mode), holder);
    keys[mode] = await keysAt(desk, sideOf(mode), account);
    const checks = await enterKeys(rt, person, await whereIs(rt, connectionId), mode, keys[mode]);
    for (const check of Object.values(checks)) if (!check.ok) throw new ToldError(check.says);
    await hearFrom(rt, desk, await whereIs(rt, connectionId), mode, account);
  }
  return { connectionId, desk, keys };
}

/** Hangs the webhook's address up over there, by call or by hand, and waits until a message has proven it. */
async function hearFrom(
  rt: Runtime,
  desk: AtDashboard,
  where: ConnectionWithProfile,
  mode: Mode,
  account: string,
): Promise<void> {
  if (!where.profile.webhooks) return;
  const { id } = where.connection;
  if (where.profile.operations.registerWebhook) {
    const registered = await registerWebhook(rt, person, where, mode);
    if (!registered.ok) throw new ToldError(registered.says);
    await pingWebhook(rt, where, mode);
  } else {
    const address = endpointAddress(rt, await currentEndpoint(rt, id, mode));
    await desk.press(sideOf(mode), "address", { address, account });
    await desk.press(sideOf(mode), "test", { account });
  }
  await until(
    `${desk.provider}'s ${mode} message`,
    async () => (await currentEndpoint(rt, id, mode)).provenAt !== null,
  );
}

/** Puts the wallet's file on the shop's domain and has it looked at. `serve` is what the shop's keeper does. */
export async function standOnDomain(
  rt: Runtime,
  { connectionId, desk }: Account,
  storefrontId: string,
  mode: Mode,
  serve: (name: string, text: string) => Promise<void>,
): Promise<void> {
  const where = await whereIs(rt, connectionId);
  const name = `${desk.provider}-${sideOf(mode)}`;
  const text = await desk.file(sideOf(mode), name);
  const path = must(where.profile.file, "file").path[mode];
  await serve(must(path.split("/").at(-1), "name"), text);
  await takeFile(rt, person, where, mode, storefrontId, name, text);
  const { provider } = await lookAtDomain(rt, person, where, await storefrontBy(rt, storefrontId), mode);
  if (!provider?.ok) throw new ToldError(provider?.says ?? "the domain was not looked at");
}

/** Offers a method of a connection on a storefront and saves what it says. */
export async function offerMethod(
  rt: Runtime,
  storefrontId: string,
  connectionId: string,
  methodId: string,
  change: Partial<OfferDocument>,
): Promise<string> {
  const storefront = await storefrontBy(rt, storefrontId);
  const added = await addOffer(rt, person, await whereIs(rt, connectionId), storefront, methodId);
  if (!added.ok) throw new ToldError(added.says);
  await editOffer(rt, storefrontId, added.id, change);
  return added.id;
}

export async function editOffer(
  rt: Runtime,
  storefrontId: string,
  offerId: string,
  change: Partial<OfferDocument>,
): Promise<void> {
  const offer = must(await offerOf(rt, storefrontId, offerId), "offer");
  const saved = await saveOffer(
    rt,
    person,
    await storefrontBy(rt, storefrontId),
    offer,
    { ...offer.working.document, ...change },
    offer.working.number,
  );
  if (!saved.ok) throw new Error(JSON.stringify(saved));
}

/** Runs what each offer of a storefront needs and has no fresh proof of, all offers at once. */
export async function rehearseAll(rt: Runtime, storefrontId: string): Promise<void> {
  const boards = async () =>
    (await standingsOf(rt, await mustStand(rt, storefrontId))).flatMap((one) => one.offers);
  for (const { offer, board } of await boards()) {
    const open = board.cells.filter(
      ({ required, proof }) => required && (proof?.state !== "passed" || proof.changed.length > 0),
    );
    if (open.length > 0)
      await startRehearsal(
        rt,
        person,
        offer,
        open.map((cell) => cell.caseId),
      );
  }
  const ended = async () => (await boards()).every(({ board }) => board.running === null);
  await until("the rehearsals", ended, 300_000);
  const lost = (await boards())
    .flatMap(({ board }) => board.cells)
    .filter((cell) => cell.required && cell.proof?.state !== "passed");
  if (lost.length > 0)
    throw new Error(
      `cases that did not pass on ${storefrontId}: ${JSON.stringify(lost.map(({ caseId, proof }) => ({ caseId, proof })))}`,
    );
}

/** Takes everything that is ready on a storefront live, in one movement. Connections that are not ready are named. */
export async function goLive(
  rt: Runtime,
  storefrontId: string,
  connectionIds: readonly string[],
): Promise<void> {
  const locked = (await standingsOf(rt, await mustStand(rt, storefrontId)))
    .filter((one) => connectionIds.includes(one.connection.id))
    .map((standing) => ({ standing, locked: interlockingFrom(standing) }));
  const moved = await cutOver(
    rt,
    person,
    storefrontId,
    locked
      .filter((one) => wouldChange(one.standing, one.locked))
      .map((one) => ({ connectionId: one.standing.connection.id, revisionIds: one.locked.revisionIds })),
  );
  if (!moved.ok) throw new ToldError(moved.says);
}

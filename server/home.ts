import { type Progress, type Track, trackOf } from "#core/track";
import { connectionsOf } from "./connections/connections";
import { interlockingFrom } from "./cutover/interlocking";
import { domainProven, keysProven, type Standing, standingOf, webhookProven } from "./cutover/standing";
import { offersOf } from "./offers/offers";
import type { CaseCount } from "./rehearsal/board";
import type { Runtime } from "./runtime";
import type { Storefront } from "./storefronts/storefronts";

export interface ConnectionTrack {
  connectionId: string;
  name: string;
  methods: string;
  live: Progress["live"];
  track: Track;
  offerId: string | null;
}

/** The track of every connection on a storefront. */
export async function tracksOf(rt: Runtime, storefront: Storefront): Promise<ConnectionTrack[]> {
  const [all, offers] = await Promise.all([connectionsOf(rt, storefront.id), offersOf(rt, storefront.id)]);
  return Promise.all(
    all.map(async (where) => {
      const [standing, paid] = await Promise.all([
        standingOf(rt, where, storefront, offers),
        livePayments(rt, storefront.id, where.connection.id),
      ]);
      return trackFrom(standing, paid);
    }),
  );
}

function trackFrom(standing: Standing, paid: number): ConnectionTrack {
  const { connection, profile, test, offers } = standing;
  const { gates } = interlockingFrom(standing);
  const offerGate = gates.find((gate) => ["wording", "stages"].includes(gate.id) && !gate.open);
  const off = offers.length > 0 && offers.every((one) => one.offer.offer.off);
  const sum = (pick: (one: CaseCount) => number) => offers.reduce((total, one) => total + pick(one.cases), 0);
  return {
    connectionId: connection.id,
    name: connection.name,
    methods: profile.methods.map((method) => method.name).join(", "),
    live: connection.live,
    offerId: offers[0]?.offer.offer.id ?? null,
    track: trackOf({
      keysProven: keysProven(standing, test),
      webhookProven: webhookProven(standing, test),
      domainProven: domainProven(standing, test),
      connectBlock: connectBlockOf(standing),
      offered: offers.length > 0,
      offerBlock: off ? "The offer is switched off." : (offerGate?.says ?? null),
      casesRequired: sum((one) => one.required),
      casesGreen: sum((one) => one.green),
      casesFailed: sum((one) => one.failed.length),
      live: connection.live,
      closedGates: gates.filter((gate) => !gate.open),
      livePayments: paid,
    }),
  };
}

/** What stands in the way on the handshake sheet's test side, first things first; null when nothing does. */
function connectBlockOf(standing: Standing): string | null {
  const { keys, check } = standing.test;
  const missing = standing.profile.fields.filter((field) => !keys?.values[field.id]);
  if (missing.length > 0) {
    const labels = missing.map((field) => field.label).join(", ");
    return `${labels} ${missing.length > 1 ? "are" : "is"} missing in the test column.`;
  }
  const wrong = Object.values(check?.wrong ?? {})[0]?.says;
  if (wrong) return wrong;
  if (check?.unanswered) return check.unanswered;
  if (!keysProven(standing, standing.test)) return "The keys are not proven.";
  if (!webhookProven(standing, standing.test)) return "No signed webhook has arrived yet.";
  return domainProven(standing, standing.test)
    ? null
    : `${standing.profile.name} has not found its ${standing.profile.file?.name ?? "file"} on the shop’s domain.`;
}

const ENOUGH = 1000;

/** How many live payments moved money, counted no further than a thousand: every page asks. */
async function livePayments(rt: Runtime, storefrontId: string, connectionId: string): Promise<number> {
  const { rows } = await rt.db.client.execute({
    sql: `select count(*) as n from (select 1 from payments where storefront_id = ? and mode = 'live' and connection_id = ?
          and state in ('authorised', 'captured', 'partly-captured', 'refunded', 'partly-refunded') limit ${ENOUGH})`,
    args: [storefrontId, connectionId],
  });
  return Number(rows[0]?.n ?? 0);
}

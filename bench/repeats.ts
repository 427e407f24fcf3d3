import { type Plan, usualTrying } from "#core/subscriptions/plan";
import { termsOf } from "#core/subscriptions/terms";
import { pay } from "#server/checkouts/pay";
import { call, lineOf, openLine } from "#server/gateway/gateway";
import { chargeable } from "#server/instruments/instruments";
import { mustStand } from "#server/storefronts/now";
import { newSubscription } from "#server/subscriptions/begin";
import { repeatLane } from "#server/subscriptions/follow";
import { subscriptionOf } from "#server/subscriptions/subscriptions";
import { editOffer } from "../demo/accounts";
import { must, until } from "../demo/play";
import { openKite, type SystemWorld } from "../e2e/system/world";
import { median, round } from "./figures";

const DE = "luvwinkel-de";
const NIGHT = Number(process.env.BENCH_SUBSCRIPTIONS ?? 100_000);
const ALONE = 200;
/** So many of the night's charges are looked up at the provider afterwards. */
const LOOKED_UP = 500;

const plan: Plan = {
  ...{ id: "night", names: { de: "Nachtwind", en: "Night wind" }, rhythm: { count: 1, unit: "month" } },
  ...{ times: null, prices: { EUR: 900 }, setUp: {}, setUpNames: {}, trial: null, fixedDay: null, tax: null },
};

/**
 * So many subscriptions that come due in one night: opened, charged at the simulated provider and settled by the worker of
 * one process, beside the same parts each alone: an order opened, and a charge answered by the provider.
 */
export async function measureRepeats({ rt, offerId, connectionId }: SystemWorld) {
  const repeats = { plans: [plan], trying: usualTrying, timeZone: "UTC" };
  await editOffer(rt, DE, offerId, { repeats });
  const first = newSubscription(rt, await mustStand(rt, DE), {
    ...{ mode: "test", origin: "shop", reference: "NIGHT", shopper: "shopper-1", quantity: 1 },
    customer: {
      country: "DE",
      language: "de",
      group: "retail",
      email: "",
      returnAddress: "http://x.example/",
    },
    terms: must(termsOf(plan, { currency: "EUR", language: "de" }, repeats), "terms"),
  });
  await rt.db.write(first.statements);
  const mandate = { words: "Es wird abgebucht.", language: "de" };
  const paid = await pay(rt, first.checkout, offerId, "play-approved", { mandate, patient: true });
  if (paid.kind !== "payment") throw new Error(paid.kind);
  const asked = must(await lineOf(rt, paid.payment), "line");
  await call(rt, asked, "actForShopper", { ref: paid.payment.providerRef, answer: "pass" });
  const { id } = first.subscription;
  await until("it runs", async () => (await subscriptionOf(rt, id))?.instrumentId != null);
  const parts = await alone();

  const planning = performance.now();
  const now = rt.now();
  const columns =
    "storefront_id, mode, origin, shopper, customer, terms, quantity, amount, currency, state, offer_id, instrument_id, told_instrument, mandate, schedule, next, charged, ends, version, created_at, updated_at";
  await rt.db.client.batch([
    {
      sql: `with recursive n(i) as (select 1 union all select i + 1 from n where i < ?)
        insert into subscriptions (id, reference, next_due, ${columns})
        select 'sub_night' || i, 'NIGHT-' || i || '-', ?, ${columns} from subscriptions, n where id = ?`,
      args: [NIGHT, now - 1, id],
    },
    {
      sql: `insert into jobs (id, kind, key, lane, run_at, created_at)
        select 'job_' || id, 'repeat', id, ?, ?, ? from subscriptions where id like 'sub_night%'`,
      args: [repeatLane(DE), now, now],
    },
  ]);
  const plannedIn = performance.now() - planning;
  const started = performance.now();
  rt.nudge();
  const settled = async () => {
    const found = await rt.db.client.execute(
      "select count(*) as n from subscription_periods where number = 1 and state = 'paid' and subscription_id like 'sub_night%'",
    );
    return Number(found.rows[0]?.n);
  };
  const memory: number[] = [];
  for (let done = 0; done < NIGHT; done = await settled()) {
    memory.push(process.memoryUsage().rss / 1_048_576);
    await new Promise((resolve) => setTimeout(resolve, 2_000));
  }
  const seconds = (performance.now() - started) / 1_000;
  const half = memory.slice(Math.floor(memory.length / 2));
  return {
    subscriptions: NIGHT,
    plannedInSeconds: round(plannedIn / 1_000),
    settledInSeconds: round(seconds, 0),
    perSecond: round(NIGHT / seconds, 1),
    notOnce: await notOnce(),
    partsPerSecond: parts,
    ofItsParts: round(NIGHT / seconds / parts.together),
    megabytes: {
      first: round(memory[0] ?? 0, 0),
      halfway: round(half[0] ?? 0, 0),
      last: round(half.at(-1) ?? 0, 0),
    },
  };

  /** How many of the night were charged more than once: by the books here, and of some by the provider's own. */
  async function notOnce() {
    const ofNight = `from subscription_periods one join payments on payments.checkout_id = one.checkout_id
      where one.number = 1 and one.subscription_id like 'sub_night%'`;
    const [books, some] = await rt.db.client.batch([
      `select count(*) as n from (select 1 ${ofNight} group by one.subscription_id having count(*) <> 1)`,
      `select payments.reference ${ofNight} order by one.checkout_id limit ${LOOKED_UP}`,
    ]);
    const line = must(await openLine(rt, { connectionId, mode: "test" }), "line");
    let there = 0;
    for (const { reference } of some?.rows ?? []) {
      const answer = await call(rt, line, "find", { reference: String(reference) });
      if (answer.kind !== "answered") throw new Error(`looking up: ${JSON.stringify(answer)}`);
      if (answer.value.payments.length !== 1) there += 1;
    }
    return { here: Number(books?.rows[0]?.n), there, lookedUp: some?.rows.length ?? 0 };
  }

  /** The parts of a charge, each alone and one after the other. */
  async function alone() {
    const times = { opened: [] as number[], answered: [] as number[] };
    const subscription = must(await subscriptionOf(rt, id), "subscription");
    const by = must(await chargeable(rt, subscription.instrumentId), "instrument");
    const line = must(await openLine(rt, { connectionId, mode: "test" }), "line");
    for (let i = 0; i < ALONE; i++) {
      let at = performance.now();
      await openKite(rt, { reference: `ALONE-${i}` });
      times.opened.push(performance.now() - at);
      at = performance.now();
      const answer = await call(rt, line, "create", {
        ...{ amount: 900, currency: "EUR", token: null, kept: by.kept, methodId: "card", capture: "at-once" },
        ...{
          authentication: "issuer",
          statement: "ALONE",
          reference: `alone-${i}`,
          returnAddress: "http://x.example/",
        },
        ...{ initiator: "shop", networkReference: by.networkReference, idempotencyKey: `alone-${i}` },
        order: {
          number: "NIGHT",
          lines: [],
          shipping: 0,
          tax: 0,
          taxIncluded: true,
          total: 900,
          payNow: 900,
          email: "",
        },
      });
      times.answered.push(performance.now() - at);
      if (answer.kind !== "answered") throw new Error(`a charge by itself: ${JSON.stringify(answer)}`);
    }
    const [opened, answered] = [median(times.opened), median(times.answered)];
    return {
      opened: round(1_000 / opened, 0),
      answered: round(1_000 / answered, 0),
      together: round(1_000 / (opened + answered), 0),
    };
  }
}

import { subscriptionHappenings } from "#core/subscriptions/event";
import { subscriptionStates, endings, periodStates } from "#core/subscriptions/course";
import { rhythmUnits } from "#core/subscriptions/schedule";
import { subscriptionActs } from "../../subscriptions/change";
import {
  text,
  amount,
  json,
  whole,
  ref,
  maybe,
  problemResponse,
  refusals,
  idempotency,
  readingRefused,
  byReference,
  query,
  pageOf,
  newsOf,
} from "./words";

/** Plans, and the subscriptions to them. */

const subscriptionStanding = {
  subscription: text("Its id."),
  reference: text("The shop's own number of it."),
  mode: ref("Mode"),
  shopper: text("Whose it is; empty once they were erased."),
  plan: text("Its plan."),
  quantity: { type: "integer", minimum: 1 },
  state: { enum: [...subscriptionStates] },
  ending: { enum: [...endings, null], description: "Why it is over." },
  ends: { type: "boolean", description: "Whether it ends when the next period would begin." },
  currency: text("ISO 4217."),
  amount: amount("What every period comes to."),
  nextAt: maybe("When the next period is charged, RFC 3339.", { format: "date-time" }),
  at: text("When it last changed, RFC 3339.", { format: "date-time" }),
  version: { type: "integer", description: "Grows with every change: the highest one is the truth." },
};

export const paths = {
  "/plans": {
    get: {
      summary: "To what shoppers can subscribe",
      responses: { "200": { description: "The plans", content: json(ref("Plans")) }, ...readingRefused },
    },
  },
  "/subscriptions": {
    get: {
      summary: "List subscriptions, the newest first",
      parameters: [
        query("state", { enum: [...subscriptionStates] }),
        query("shopper", text("The shopper's id.")),
        query("after", text("The cursor that came as next.")),
      ],
      responses: {
        "200": { description: "A page", content: json(pageOf("subscriptions", ref("Subscription"))) },
        ...readingRefused,
      },
    },
    post: {
      summary: "Begin a subscription",
      description:
        "Send the shopper to its address; once they have paid there it runs by itself. With an instrument that they have kept, and the words in which they agreed, it is charged at once: a subscription.changed tells what came of it.",
      parameters: [idempotency],
      requestBody: { required: true, content: json(ref("NewSubscription")) },
      responses: {
        "201": { description: "It waits to be paid", content: json(ref("BegunSubscription")) },
        ...refusals,
      },
    },
  },
  "/subscriptions/{reference}": {
    get: {
      summary: "Read a subscription by your own number, with every period so far",
      parameters: [byReference],
      responses: {
        "200": { description: "The subscription", content: json(ref("SubscriptionWithPeriods")) },
        ...readingRefused,
        "404": problemResponse,
      },
    },
  },
  "/subscriptions/{reference}/change": {
    post: {
      summary: "Change plan or quantity from the next period on",
      parameters: [byReference, idempotency],
      requestBody: { required: true, content: json(ref("SubscriptionChange")) },
      responses: {
        "200": { description: "Changed", content: json(ref("SubscriptionWithPeriods")) },
        "404": problemResponse,
        ...refusals,
      },
    },
  },
  "/subscriptions/{reference}/instrument": {
    post: {
      summary: "Charge it to something else that its shopper has kept",
      parameters: [byReference, idempotency],
      requestBody: {
        required: true,
        content: json({
          type: "object",
          required: ["instrument"],
          properties: { instrument: text("Something kept, of which the shopper agreed to be charged.") },
        }),
      },
      responses: {
        "200": { description: "Changed", content: json(ref("SubscriptionWithPeriods")) },
        "404": problemResponse,
        ...refusals,
      },
    },
  },
  "/subscriptions/{reference}/{act}": {
    post: {
      summary: "Pause, resume, skip the next period, cancel at once or at the end, or go on after all",
      description: "What is so already is answered as if it had been done.",
      parameters: [
        byReference,
        { name: "act", in: "path", required: true, schema: { enum: [...subscriptionActs] } },
        idempotency,
      ],
      responses: {
        "200": { description: "Done", content: json(ref("SubscriptionWithPeriods")) },
        "404": problemResponse,
        ...refusals,
      },
    },
  },
};

export const webhooks = {
  "subscription.changed": newsOf(
    "Something happened to a subscription",
    {
      subscription: ref("Subscription"),
      happened: {
        type: "object",
        required: ["what"],
        properties: {
          what: { enum: [...subscriptionHappenings] },
          number: { type: "integer", description: "Of which period." },
        },
        additionalProperties: true,
      },
    },
    "Of two, the one with the higher version is the truth. What concerns an order names it as order; where the shopper is asked for something else to pay with, address is where they do.",
  ),
};

export const schemas = {
  Plans: whole({
    plans: {
      type: "array",
      description: "What shoppers can subscribe to, in the order of the offers; empty where nothing repeats.",
      items: whole({
        plan: text("The shop's own name for it."),
        names: { type: "object", additionalProperties: text("As shoppers read it, by language.") },
        every: ref("Rhythm"),
        times: {
          type: ["integer", "null"],
          description: "How many periods are charged; null: until it ends.",
        },
        trialDays: { type: ["integer", "null"], description: "How long the trial is; null: there is none." },
        prices: {
          type: "array",
          items: whole({
            currency: text("ISO 4217."),
            amount: amount("For one piece and period, with tax."),
            setUp: amount("Charged once, at the beginning."),
            trial: maybe("What the trial costs; null where there is none. Decimal text."),
          }),
        },
      }),
    },
  }),
  Rhythm: whole({
    count: { type: "integer", minimum: 1 },
    unit: { enum: [...rhythmUnits], description: "Months are those of the calendar." },
  }),
  Subscription: whole(subscriptionStanding),
  BegunSubscription: whole({
    ...subscriptionStanding,
    checkout: text("Its checkout."),
    address: text("Send the shopper there, unless it is charged to what they have kept.", { format: "uri" }),
    due: amount("What is paid at the beginning."),
  }),
  SubscriptionWithPeriods: whole({
    ...subscriptionStanding,
    periods: {
      type: "array",
      items: whole({
        number: { type: "integer", minimum: 0, description: "0 is the one that it began with." },
        first: text("Its first day, ISO 8601."),
        until: text("The first day of the next."),
        amount: amount("What it comes to."),
        state: { enum: [...periodStates] },
        tries: { type: "integer", minimum: 0, description: "How often it was charged without the shopper." },
        order: maybe("Its order number; null where it was left out."),
      }),
    },
  }),
  SubscriptionChange: {
    type: "object",
    properties: {
      plan: text("Another plan, from the next period on."),
      quantity: { type: "integer", minimum: 1, maximum: 1_000 },
    },
  },
  NewSubscription: {
    type: "object",
    required: [
      ...["reference", "plan", "shopper", "currency", "country", "language", "group", "returnAddress"],
    ],
    properties: {
      reference: text(
        "The shop's own number of it, and the order number of its first order; those that follow get a hyphen and their number.",
        { maxLength: 56 },
      ),
      plan: text("A plan of the storefront."),
      quantity: { type: "integer", minimum: 1, maximum: 1_000, default: 1 },
      shopper: text("Who the shopper is, in the shop's own words: they have to be signed in.", {
        maxLength: 64,
      }),
      currency: text("ISO 4217."),
      country: text("ISO 3166-1 alpha-2."),
      language: text("BCP 47."),
      group: text("A shopper group of the storefront."),
      email: text("Where they are asked for something else to pay with, if need be.", { format: "email" }),
      returnAddress: text("Where the shopper comes back to.", { format: "uri" }),
      shipTo: ref("Place"),
      billTo: ref("Place"),
      instrument: text(
        "Something they have kept, which is charged at once. Left out: they pay at the checkout.",
      ),
      mandate: text("With an instrument: the words in which they agreed to be charged.", {
        maxLength: 2_000,
      }),
    },
  },
};

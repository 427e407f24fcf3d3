import { actionKinds } from "#core/payments/actions";
import { paymentStates } from "#core/payments/facts";
import { subscriptionHappenings } from "#core/subscriptions/event";
import { subscriptionStates } from "#core/subscriptions/course";
import { subscriptionActs } from "../subscriptions/change";
import { json, ref, schemas, text } from "./schemas";

const problemResponse = {
  description: "A problem document (RFC 9457)",
  content: { "application/problem+json": { schema: ref("Problem") } },
};
const tooMany = {
  ...problemResponse,
  description: "The key called too often. Come back once Retry-After (seconds) is over; nothing was done.",
  headers: { "Retry-After": { schema: { type: "integer", minimum: 1 } } },
};
const refusals = {
  "400": problemResponse,
  "401": problemResponse,
  "409": problemResponse,
  "413": problemResponse,
  "415": problemResponse,
  "422": problemResponse,
  "429": tooMany,
  "503": problemResponse,
};
const idempotency = {
  name: "Idempotency-Key",
  in: "header",
  required: true,
  schema: text("The same key with the same body is answered as the first time."),
};
const readingRefused = {
  "401": problemResponse,
  "422": problemResponse,
  "429": tooMany,
  "503": problemResponse,
};
const byReference = {
  name: "reference",
  in: "path",
  required: true,
  schema: text("The shop's order number."),
};
const query = (name: string, schema: object) => ({ name, in: "query", required: false, schema });
const paging = [
  query("after", text("The cursor that came as next.")),
  query("since", text("Not older than this, RFC 3339.", { format: "date-time" })),
];
const pageOf = (name: string, items: object) => ({
  type: "object",
  required: [name, "next"],
  properties: {
    [name]: { type: "array", items },
    next: { type: ["string", "null"], description: "Where the next page begins; null on the last." },
  },
});
const byShopper = {
  name: "shopper",
  in: "path",
  required: true,
  schema: text("The shopper's id, as the shop writes it in orders.", { maxLength: 64 }),
};
const byId = { name: "id", in: "path", required: true, schema: { type: "string" } };

/** One piece of news as the shop hears it: signed by the Standard Webhooks specification, answered with any 2xx. */
const newsOf = (summary: string, data: Record<string, object>, description = "") => ({
  post: {
    summary,
    ...(description && { description }),
    requestBody: {
      required: true,
      content: json({
        type: "object",
        required: ["type", "timestamp", "data"],
        properties: {
          type: text("Which news."),
          timestamp: text("When it was said, RFC 3339.", { format: "date-time" }),
          data: { type: "object", required: Object.keys(data), properties: data },
        },
      }),
    },
    responses: { "204": { description: "Taken. Anything but 2xx has it sent again, for three days." } },
  },
});
const news = (summary: string, order: object, description: string) =>
  newsOf(summary, { order, payment: ref("Payment") }, description);

/** The shop API as an OpenAPI 3.1 document. */
export const openApi = (origin: string) => ({
  openapi: "3.1.0",
  info: {
    title: "Shop API",
    version: "1.0.0",
    description: "How a shop opens checkouts, reads payments and hears news.",
  },
  servers: [{ url: `${origin}/api/v1` }],
  security: [{ key: [] }],
  paths: {
    "/storefront": {
      get: {
        summary: "Which storefront and mode the key speaks for",
        responses: {
          "200": { description: "The storefront", content: json(ref("Storefront")) },
          "401": problemResponse,
          "429": tooMany,
          "503": problemResponse,
        },
      },
    },
    "/stages": {
      put: {
        summary: "Declare the shop's order stages",
        requestBody: {
          required: true,
          content: json({
            type: "object",
            required: ["stages"],
            properties: { stages: { type: "array", items: text("A stage in the shop's own words.") } },
          }),
        },
        responses: {
          "200": {
            description: "The stages as kept, each once",
            content: json({
              type: "object",
              required: ["stages"],
              properties: { stages: { type: "array", items: text("A stage.") } },
            }),
          },
          ...refusals,
        },
      },
    },
    "/news-address": {
      put: {
        summary: "Say where news goes, and with which Standard Webhooks secret it is signed",
        requestBody: {
          required: true,
          content: json({
            type: "object",
            required: ["address", "secret"],
            properties: {
              address: text("Where news is sent by POST."),
              secret: text("whsec_ and 24 bytes or more in base64."),
            },
          }),
        },
        responses: {
          "200": {
            description: "Kept, for the key's own mode",
            content: json({
              type: "object",
              required: ["address", "mode"],
              properties: { address: text("Where news goes."), mode: ref("Mode") },
            }),
          },
          ...refusals,
        },
      },
    },
    "/offers": {
      post: {
        summary: "Ask which offers an order would get, and why others are withheld",
        requestBody: { required: true, content: json(ref("Order")) },
        responses: { "200": { description: "The decision", content: json(ref("Decision")) }, ...refusals },
      },
    },
    "/embeds": {
      post: {
        summary:
          "Ask what a page of the shop can show of a basket: notices of instalments, and buttons that pay",
        requestBody: { required: true, content: json(ref("Basket")) },
        responses: { "200": { description: "What to put in", content: json(ref("Embed")) }, ...refusals },
      },
    },
    "/checkouts": {
      post: {
        summary: "Open a checkout for an order",
        parameters: [idempotency],
        requestBody: { required: true, content: json(ref("Order")) },
        responses: {
          "201": { description: "Send the shopper to its address", content: json(ref("Checkout")) },
          ...refusals,
        },
      },
    },
    "/checkouts/{id}": {
      get: {
        summary: "Read a checkout with its payments",
        parameters: [byId],
        responses: {
          "200": { description: "The checkout", content: json(ref("CheckoutWithPayments")) },
          "401": problemResponse,
          "429": tooMany,
          "503": problemResponse,
          "404": problemResponse,
        },
      },
    },
    "/purchases/{id}": {
      get: {
        summary: "Read a purchase that was begun by a button",
        parameters: [byId],
        responses: {
          "200": { description: "The purchase", content: json(ref("Purchase")) },
          "401": problemResponse,
          "429": tooMany,
          "503": problemResponse,
          "404": problemResponse,
        },
      },
    },
    "/purchases/{id}/confirm": {
      post: {
        summary: "Order and pay a purchase that its shopper has looked at; once, however often it is asked",
        parameters: [byId],
        responses: {
          "200": { description: "The purchase as it is now", content: json(ref("Purchase")) },
          "401": problemResponse,
          "429": tooMany,
          "503": problemResponse,
          "404": problemResponse,
        },
      },
    },
    "/orders": {
      get: {
        summary: "List orders, the newest first",
        parameters: [query("state", ref("OrderState")), ...paging],
        responses: {
          "200": {
            description: "A page",
            content: json(pageOf("orders", ref("OrderStanding"))),
          },
          ...readingRefused,
        },
      },
    },
    "/orders/{reference}/cancel": {
      post: {
        summary: "Cancel an order that is not paid; what is asked of a shopper is let go of",
        parameters: [byReference, idempotency],
        responses: {
          "200": { description: "Cancelled", content: json(ref("OrderStanding")) },
          "404": problemResponse,
          ...refusals,
        },
      },
    },
    "/checkouts/{id}/expire": {
      post: {
        summary: "End an open checkout before its time",
        parameters: [byId, idempotency],
        responses: {
          "200": { description: "Ended", content: json(ref("CheckoutEnd")) },
          "404": problemResponse,
          ...refusals,
        },
      },
    },
    "/payments": {
      get: {
        summary: "List payments, the newest first",
        parameters: [
          query("state", { enum: [...paymentStates] }),
          query("order", text("The shop's order number.")),
          ...paging,
        ],
        responses: {
          "200": { description: "A page", content: json(pageOf("payments", ref("Payment"))) },
          ...readingRefused,
        },
      },
    },
    "/payments/{id}/{act}": {
      post: {
        summary: "Capture, release, void or refund a payment",
        description:
          "Without an amount: all there is. 202 means that its end is not known yet; send the same again, with the same Idempotency-Key, to hear how it ended. An order.changed follows either way.",
        parameters: [
          byId,
          { name: "act", in: "path", required: true, schema: { enum: [...actionKinds] } },
          idempotency,
        ],
        requestBody: { required: false, content: json(ref("Act")) },
        responses: {
          "200": { description: "Done", content: json(ref("Acted")) },
          "202": { description: "Not known yet", content: json(ref("Acted")) },
          "404": problemResponse,
          ...refusals,
        },
      },
    },
    "/events": {
      get: {
        summary: "Everything the shop was or is to be told, the oldest first",
        description:
          "What was missed while the shop was away can be read here, from after the last id it took.",
        parameters: paging,
        responses: {
          "200": {
            description: "A page",
            content: json(
              pageOf("events", {
                type: "object",
                required: ["id", "type", "timestamp", "data"],
                properties: {
                  id: text("Its cursor, and the webhook-id it was sent under."),
                  type: text("Which news."),
                  timestamp: text("RFC 3339.", { format: "date-time" }),
                  data: { type: "object" },
                },
              }),
            ),
          },
          ...readingRefused,
        },
      },
    },
    "/news-address/test": {
      post: {
        summary: "Have a piece of news sent that says nothing but that news arrives",
        responses: {
          "202": { description: "On its way", content: json(ref("Event")) },
          ...readingRefused,
        },
      },
    },
    "/events/{id}/again": {
      post: {
        summary: "Have a piece of news sent once more, whether it was taken or not",
        parameters: [byId],
        responses: {
          "202": { description: "On its way", content: json(ref("Event")) },
          "404": problemResponse,
          ...readingRefused,
        },
      },
    },
    "/shoppers/{shopper}/instruments": {
      get: {
        summary: "What a shopper has kept for the next time",
        parameters: [byShopper],
        responses: {
          "200": { description: "The list", content: json(ref("Instruments")) },
          ...refusals,
          "404": problemResponse,
        },
      },
    },
    "/shoppers/{shopper}/instruments/{id}": {
      delete: {
        summary: "Have one forgotten, here at once and at the provider as soon as it answers",
        parameters: [byShopper, byId],
        responses: {
          "200": { description: "What is left", content: json(ref("Instruments")) },
          ...refusals,
          "404": problemResponse,
        },
      },
    },
    "/shoppers/{shopper}/instruments/{id}/usual": {
      put: {
        summary: "Have one shown first",
        parameters: [byShopper, byId],
        responses: {
          "200": { description: "The list", content: json(ref("Instruments")) },
          ...refusals,
          "404": problemResponse,
        },
      },
    },
    "/shoppers/{shopper}/page": {
      post: {
        summary: "Open a page on which the shopper sees and forgets what they have kept",
        parameters: [byShopper],
        requestBody: {
          required: true,
          content: json({
            type: "object",
            required: ["language", "returnAddress"],
            properties: {
              language: text("The shopper's, BCP 47."),
              returnAddress: text("Where they go back to.", { format: "uri" }),
            },
          }),
        },
        responses: {
          "200": { description: "Its address", content: json(ref("ShopperPage")) },
          ...refusals,
          "404": problemResponse,
        },
      },
    },
    "/shoppers/{shopper}": {
      delete: {
        summary: "Erase a shopper: everything kept is forgotten, and nothing says whose it was",
        parameters: [byShopper],
        responses: {
          "200": {
            description: "How many there were",
            content: json({
              type: "object",
              required: ["erased"],
              properties: { erased: { type: "integer", minimum: 0 } },
            }),
          },
          ...refusals,
          "404": problemResponse,
        },
      },
    },
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
    "/orders/{reference}": {
      get: {
        summary: "Read an order by your own reference, with every payment that was tried",
        parameters: [byReference],
        responses: {
          "200": { description: "The order", content: json(ref("OrderWithPayments")) },
          "401": problemResponse,
          "429": tooMany,
          "503": problemResponse,
          "404": problemResponse,
        },
      },
    },
    "/payments/{id}": {
      get: {
        summary: "Read a payment",
        parameters: [byId],
        responses: {
          "200": { description: "The payment", content: json(ref("Payment")) },
          "401": problemResponse,
          "429": tooMany,
          "503": problemResponse,
          "404": problemResponse,
        },
      },
    },
  },
  webhooks: {
    "order.changed": news(
      "An order's money or stage has changed",
      ref("OrderStanding"),
      "Sent for each change, with the payment that moved. Of two, the one with the higher version is the truth.",
    ),
    "checkout.closed": newsOf("A checkout ended without being paid", {
      checkout: text("Its id."),
      order: text("The shop's order number."),
      mode: ref("Mode"),
      state: { enum: ["cancelled", "expired"] },
    }),
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
    "button.question": {
      post: {
        summary: "A shopper is buying by a button: the shop is asked, or told",
        description:
          "Goes to answersAt of the page that the button stood on, signed as news is (with the secret of the news address), and has to be answered within 3 seconds. button.delivery asks what it comes to at an address; button.order has the order made, and asks again under the same basket until it was answered: the shop makes one order for a basket and answers with it each time; button.closed says that nothing came of an order that was asked for.",
        requestBody: { content: json(ref("ButtonQuestion")) },
        responses: {
          "200": { description: "The answer; anything to button.closed", content: json(ref("ButtonAnswer")) },
        },
      },
    },
    "news.test": newsOf("News arrives", {
      storefront: text("The storefront's id."),
      mode: ref("Mode"),
    }),
    "test-orders.close": newsOf("The storefront has gone live: close these test orders", {
      orders: { type: "array", items: text("A shop's order number.") },
    }),
  },
  components: {
    securitySchemes: {
      key: { type: "http", scheme: "bearer", description: "A key for each storefront and mode." },
    },
    schemas,
  },
});

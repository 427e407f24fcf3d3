import { withheldCodes } from "#core/offers/decide";
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
  notRead,
  byId,
  newsOf,
} from "./words";

/** Orders as they come, which offers they get, and their checkouts. */

/** What is bought, and by whom, whether it has a number already or not. */
export const basket = {
  currency: text("ISO 4217."),
  lines: {
    type: "array",
    items: {
      type: "object",
      required: ["name", "quantity", "unit", "total"],
      properties: {
        name: text("As the shopper reads it."),
        quantity: {
          type: "number",
          minimum: 0.001,
          maximum: 100_000,
          description: "With up to three decimals.",
        },
        unit: amount("For one; negative for a discount."),
        total: amount("unit × quantity, rounded to the minor unit."),
        kind: text("The shop's own name for what kind of goods it is, which rules can ask for.", {
          maxLength: 60,
        }),
      },
    },
  },
  shipping: amount("Zero if none."),
  tax: amount("The tax in the order."),
  taxIncluded: {
    type: "boolean",
    default: true,
    description: "Whether lines and shipping hold the tax already.",
  },
  total: amount("What the shopper pays."),
  country: text("ISO 3166-1 alpha-2."),
  language: text("BCP 47."),
  group: text("A shopper group of the storefront."),
  shipTo: ref("Place"),
  billTo: ref("Place"),
  delivery: text("The shop's own name for how it is delivered, which rules can ask for.", {
    maxLength: 60,
  }),
  weight: { type: "integer", minimum: 0, description: "Grams, which rules can ask for." },
  returning: { type: "boolean", description: "Whether the shopper has ordered before." },
};
export const wholeBasket = ["currency", "lines", "shipping", "tax", "total", "country", "language", "group"];

export const paths = {
  "/offers": {
    post: {
      summary: "Ask which offers an order would get, and why others are withheld",
      requestBody: { required: true, content: json(ref("Order")) },
      responses: { "200": { description: "The decision", content: json(ref("Decision")) }, ...refusals },
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
        ...notRead,
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
};

export const webhooks = {
  "checkout.closed": newsOf("A checkout ended without being paid", {
    checkout: text("Its id."),
    order: text("The shop's order number."),
    mode: ref("Mode"),
    state: { enum: ["cancelled", "expired"] },
  }),
};

export const schemas = {
  Order: {
    type: "object",
    required: ["reference", ...wholeBasket, "returnAddress"],
    properties: {
      reference: text("The shop's own order number.", { maxLength: 64 }),
      ...basket,
      payNow: amount(
        "What of the total is to be paid by this checkout, such as a deposit or the rest; left out: all that is left.",
      ),
      shopper: text(
        "Who the shopper is, in the shop's own words, where the shop has signed them in: what they keep for the next time is theirs.",
        { maxLength: 64 },
      ),
      email: text("The shopper's; left out where there is none.", { format: "email" }),
      returnAddress: text(
        "Where the shopper comes back to: a web page, or an app that the storefront lists.",
        {
          format: "uri",
        },
      ),
    },
  },
  Place: {
    type: "object",
    required: ["country"],
    description:
      "Where something goes, or from where it is paid; zones in rules are looked up by country, region and postcode. The rest is for providers, and told to one only where its offer says so.",
    properties: {
      country: text("ISO 3166-1 alpha-2."),
      region: text("ISO 3166-2, such as DE-SH."),
      postcode: text("As the country writes it.", { maxLength: 12 }),
      city: text("The town.", { maxLength: 80 }),
      lines: {
        type: "array",
        minItems: 1,
        maxItems: 5,
        items: text("Street and house, as they are written.", { maxLength: 120 }),
      },
      name: text("Whose it is.", { maxLength: 120 }),
    },
  },
  Decision: whole({
    shown: {
      type: "array",
      items: whole({
        id: text("The offer."),
        label: text("In the order's language."),
        hint: text("The shopper's hint, or empty."),
        charge: text(
          "What choosing it adds to the total, as decimal text; with a minus it takes off. The hosted checkout adds it by itself.",
        ),
        picture: maybe("Where its picture is, PNG; null where it has none of the shop's own."),
      }),
    },
    withheld: {
      type: "array",
      items: whole({
        id: text("The offer."),
        label: text("In the order's language."),
        because: {
          type: "array",
          minItems: 1,
          items: whole({
            code: { enum: [...withheldCodes] },
            values: {
              type: "object",
              description: "What the reason is about: amounts as decimal text, countries by their codes.",
              additionalProperties: true,
            },
          }),
        },
      }),
    },
  }),
  CheckoutState: { enum: ["open", "paid", "cancelled", "expired"] },
  Checkout: whole({
    checkout: text("Its id."),
    address: text("The hosted page.", { format: "uri" }),
    mode: ref("Mode"),
    state: ref("CheckoutState"),
    expiresAt: text("RFC 3339.", { format: "date-time" }),
  }),
  CheckoutWithPayments: whole({
    checkout: text("Its id."),
    order: text("The shop's order number."),
    state: ref("CheckoutState"),
    total: amount("What the order comes to."),
    payNow: amount("What of it this checkout asks for."),
    currency: text("ISO 4217."),
    payments: { type: "array", items: ref("Payment") },
  }),
  CheckoutEnd: whole({
    checkout: text("Its id."),
    order: text("The shop's order number."),
    state: ref("CheckoutState"),
  }),
};

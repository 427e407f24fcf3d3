import { actionKinds } from "#core/payments/actions";
import { paymentStates, declineReasons, disputeStates } from "#core/payments/facts";
import { orderStates } from "#core/orders/paid";
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
  notRead,
  byReference,
  query,
  paging,
  pageOf,
  byId,
  newsOf,
} from "./words";

/** Orders and payments, and what is done with them. */

const orderStanding = {
  order: text("The shop's order number."),
  mode: ref("Mode"),
  state: ref("OrderState"),
  stage: maybe("The order stage that follows; null where none is chosen, or it is no longer declared."),
  currency: text("ISO 4217."),
  due: amount("What the order is to be paid with."),
  held: amount("Promised and not captured yet."),
  paid: amount("Captured, less what was lost in a dispute."),
  refunded: amount("Refunded."),
  left: amount(
    "What is neither paid nor promised yet; of an order that is paid in parts, the parts to come.",
  ),
  payment: maybe("The payment that pays it; of several parts the one that came last."),
  at: text("When it last changed, RFC 3339.", { format: "date-time" }),
  version: {
    type: "integer",
    description: "Grows with every change of the order: of two pieces of news the higher one is the truth.",
  },
};

export const paths = {
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
  "/orders/{reference}": {
    get: {
      summary: "Read an order by your own reference, with every payment that was tried",
      parameters: [byReference],
      responses: {
        "200": { description: "The order", content: json(ref("OrderWithPayments")) },
        ...notRead,
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
  "/payments/{id}": {
    get: {
      summary: "Read a payment",
      parameters: [byId],
      responses: {
        "200": { description: "The payment", content: json(ref("Payment")) },
        ...notRead,
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
};

export const webhooks = {
  "order.changed": newsOf(
    "An order's money or stage has changed",
    { order: ref("OrderStanding"), payment: ref("Payment") },
    "Sent for each change, with the payment that moved. Of two, the one with the higher version is the truth.",
  ),
  "test-orders.close": newsOf("The storefront has gone live: close these test orders", {
    orders: { type: "array", items: text("A shop's order number.") },
  }),
};

export const schemas = {
  OrderState: { enum: [...orderStates] },
  OrderStanding: whole(orderStanding),
  OrderWithPayments: whole({ ...orderStanding, payments: { type: "array", items: ref("Payment") } }),
  Payment: whole({
    payment: text("Its id."),
    checkout: text("Its checkout."),
    order: text("The shop's order number."),
    mode: ref("Mode"),
    state: { enum: [...paymentStates] },
    currency: text("ISO 4217."),
    amount: amount("Asked for."),
    choiceFee: text(
      "What of the amount is for choosing this way of paying, and not for the order, as decimal text; with a minus it was taken off.",
    ),
    authorised: amount("Authorised."),
    captured: amount("Captured."),
    released: amount("Let go of what was authorised."),
    held: amount("Authorised, and neither captured nor released."),
    heldUntil: maybe("When what is held ends, RFC 3339, where the provider says so.", {
      format: "date-time",
    }),
    refunded: amount("Refunded."),
    refunding: amount("On its way back to the shopper; it can still fail."),
    dispute: { enum: [...disputeStates, null], description: "A dispute about it, if there is or was one." },
    review: { enum: ["open", "passed", "refused", null], description: "The provider's check for fraud." },
    instrument: maybe("What was paid with, as the shopper knows it."),
    declineReason: { enum: [...declineReasons, null], description: "Why it was declined, if it was." },
    reference: text("Our reference at the provider."),
    providerReference: maybe("The provider's own number of it."),
    fee: maybe("What the provider told that it kept; decimal text."),
    findings: {
      type: "array",
      description: "What a person should look at, by its code, such as `surplus` or `held-ends`.",
      items: text("Which finding."),
    },
    at: text("When it last changed, RFC 3339.", { format: "date-time" }),
  }),
  Act: {
    type: "object",
    properties: {
      amount: amount("How much; all there is, when it is left out."),
      lines: {
        type: "array",
        description:
          "Instead of an amount: which lines of the order, by their place from 0, and how much of each. What was named before for the same kind of act is not named again; tax that is not in the prices is shared.",
        items: {
          type: "object",
          required: ["line", "quantity"],
          properties: {
            line: { type: "integer", minimum: 0 },
            quantity: { type: "number", minimum: 0.001 },
          },
        },
      },
      shipping: { type: "boolean", description: "With lines: the shipping as well." },
      reason: text("For the books.", { maxLength: 200 }),
      final: {
        type: "boolean",
        description: "Of a capture: nothing more will be captured, so that the rest is let go.",
      },
    },
  },
  Acted: whole({
    done: { type: "boolean", description: "False while its end is not known." },
    payment: ref("Payment"),
  }),
};

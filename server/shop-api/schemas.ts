import { buttonSizes } from "#core/buttons/button";
import { overs, sessionStates } from "#core/buttons/course";
import { refusals } from "#core/buttons/delivery";
import { embedPlaces } from "#core/buttons/places";
import { withheldCodes } from "#core/offers/decide";
import { orderStates } from "#core/orders/paid";
import { endings, periodStates, subscriptionStates } from "#core/subscriptions/course";
import { rhythmUnits } from "#core/subscriptions/schedule";
import { declineReasons, disputeStates, paymentStates } from "#core/payments/facts";

export const text = (description: string, extra: object = {}) => ({ type: "string", description, ...extra });
const amount = (description: string) =>
  text(`${description} Decimal text with no more decimals than the currency has.`, { examples: ["12.30"] });
export const json = (schema: object) => ({ "application/json": { schema } });
/** An object that always has exactly these. */
const whole = (properties: Record<string, object>) => ({
  type: "object",
  required: Object.keys(properties),
  properties,
  additionalProperties: false,
});
export const ref = (name: string) => ({ $ref: `#/components/schemas/${name}` });

const maybe = (description: string, extra: object = {}) => ({
  type: ["string", "null"],
  description,
  ...extra,
});

const maybeOf = (name: string, description: string) => ({
  anyOf: [ref(name), { type: "null" }],
  description,
});

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

/** What is bought, and by whom, whether it has a number already or not. */
const basket = {
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
const wholeBasket = ["currency", "lines", "shipping", "tax", "total", "country", "language", "group"];

/** What the shop API takes and gives, as JSON Schemas by name. */
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
  Basket: {
    type: "object",
    required: ["place", "origin", ...wholeBasket],
    description: "What a page of the shop shows: one product, or all that is in the basket.",
    properties: {
      place: { enum: [...embedPlaces], description: "Which page it is." },
      userAgent: text("The shopper's User-Agent, which rules about devices go by."),
      buttons: {
        type: "object",
        required: ["basket", "answersAt", "returnAddress"],
        additionalProperties: false,
        description: "What buttons that pay need; left out: the page has none.",
        properties: {
          basket: text(
            "The shop's own name of what is bought: one order comes of it, whatever is pressed, and the shop answers for it.",
            { maxLength: 64 },
          ),
          answersAt: text("Where the shop answers what delivery and tax come to, and makes the order.", {
            format: "uri",
          }),
          returnAddress: text("Where a shopper comes back to who does not buy.", { format: "uri" }),
          lookAddress: text(
            "Where a shopper looks once more before they order, where the offer says that they do so at the shop; it gets the purchase's id as `purchase`.",
            { format: "uri" },
          ),
        },
      },
      origin: text("From where the shopper's browser asks: scheme and host of the page.", {
        examples: ["https://shop.example"],
      }),
      ...basket,
    },
  },
  Embed: whole({
    token: text("With it the page asks, from its origin and about this basket, for half an hour."),
    expiresAt: text("RFC 3339.", { format: "date-time" }),
    script: whole({
      address: text("The script that goes on the page, once.", { format: "uri" }),
      integrity: text("Its Subresource Integrity."),
    }),
    notices: {
      type: "array",
      description: "In the order of the offers; empty where nothing is to be told on this page.",
      items: whole({
        offer: text("The offer."),
        lines: {
          type: "array",
          minItems: 2,
          maxItems: 2,
          items: text("In the shopper's language, with the provider's figures."),
        },
        more: text("What stands on the press that opens all plans."),
        language: text("In which language it is, BCP 47."),
        markup: text("All of it as an HTML element, to be put in as it stands."),
      }),
    },
    buttons: {
      type: "array",
      description: "The buttons that pay, in the order of the offers; empty where none stands on this page.",
      items: whole({
        offer: text("The offer."),
        text: text("What stands on it, in the shopper's language."),
        language: text("In which language it is, BCP 47."),
        size: { enum: [...buttonSizes], description: "How high it is: 40, 48 or 56 pixels." },
        markup: text("All of it as an HTML element, to be put in as it stands."),
      }),
    },
  }),
  Purchase: whole({
    purchase: text("Its id."),
    basket: text("The shop's own name of what is bought."),
    offer: text("The offer whose button was pressed."),
    state: { enum: [...sessionStates] },
    because: { enum: [...overs, null], description: "Why nothing came of it." },
    currency: text("ISO 4217."),
    total: amount("What the shopper agreed to, without what choosing this way of paying costs or saves."),
    charge: text("What choosing it costs; negative where it saves. Decimal text."),
    address: maybeOf("PurchaseAddress", "Where it goes; null while nothing is chosen."),
    contact: maybeOf("PurchaseContact", "Whom the wallet names; null while nothing is agreed to."),
    delivery: {
      type: ["object", "null"],
      description: "The delivery that was chosen.",
      required: ["id", "name", "price"],
      properties: { id: text("The shop's own."), name: text("As it was told."), price: amount("Its price.") },
    },
    order: maybe("The shop's order number, once it is ordered."),
    goTo: text("Where the shopper goes on.", { format: "uri" }),
  }),
  PurchaseAddress: {
    type: "object",
    required: ["country"],
    properties: {
      country: text("ISO 3166-1 alpha-2."),
      region: text("ISO 3166-2."),
      postcode: text("As it is written there."),
      city: text("The town."),
      lines: { type: "array", items: text("Street and what else; only once the shopper has agreed.") },
    },
  },
  PurchaseContact: {
    type: "object",
    properties: { name: text("The name."), email: text("The e-mail address."), phone: text("The number.") },
  },
  ButtonQuestion: {
    type: "object",
    required: ["type", "timestamp", "data"],
    properties: {
      type: { enum: ["button.delivery", "button.order", "button.closed"] },
      timestamp: text("RFC 3339.", { format: "date-time" }),
      data: {
        type: "object",
        required: ["session", "basket"],
        properties: {
          session: text("The purchase."),
          basket: text("The shop's own name of what is bought."),
          offer: text("The offer."),
          currency: text("ISO 4217."),
          language: text("The shopper's, BCP 47."),
          address: ref("PurchaseAddress"),
          contact: ref("PurchaseContact"),
          delivery: text("Of an order: the delivery that was chosen."),
          total: amount("Of an order: what the shopper agreed to; the order must not come to anything else."),
        },
      },
    },
  },
  ButtonAnswer: {
    anyOf: [
      {
        type: "object",
        required: ["lines", "deliveries"],
        description: "To button.delivery: what it comes to there, for each delivery that the shop offers.",
        properties: {
          lines: basket.lines,
          taxIncluded: basket.taxIncluded,
          deliveries: {
            type: "array",
            minItems: 1,
            maxItems: 20,
            items: whole({
              id: text("The shop's own.", { maxLength: 64 }),
              name: text("As the shopper reads it.", { maxLength: 100 }),
              shipping: amount("Its price."),
              tax: amount("The tax in the whole order then."),
              total: amount("What the whole order comes to then."),
            }),
          },
        },
      },
      ref("Order"),
      {
        type: "object",
        required: ["refused"],
        description: "To either: the shop does not sell.",
        properties: {
          refused: { enum: [...refusals] },
          says: text("Why, for the shopper, in their language.", { maxLength: 300 }),
        },
      },
    ],
  },
  Instruments: whole({
    instruments: {
      type: "array",
      description: "What the shopper has kept and can still use, the usual one first.",
      items: whole({
        instrument: text("Its id."),
        offer: text("The offer that it is paid through."),
        name: text("As the shopper knows it; never a whole number."),
        usual: { type: "boolean", description: "Whether it is shown first." },
        until: maybe("The day on which it ends, where the provider says so."),
        keptAt: text("RFC 3339.", { format: "date-time" }),
      }),
    },
  }),
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
  ShopperPage: whole({
    address: text("Send the shopper there.", { format: "uri" }),
    expiresAt: text("RFC 3339.", { format: "date-time" }),
  }),
  Place: {
    type: "object",
    required: ["country"],
    description: "Where something goes, or from where it is paid; zones in rules are looked up by it.",
    properties: {
      country: text("ISO 3166-1 alpha-2."),
      region: text("ISO 3166-2, such as DE-SH."),
      postcode: text("As the country writes it.", { maxLength: 12 }),
    },
  },
  Mode: { enum: ["test", "live"], description: "Test speaks to the providers' sandboxes." },
  CheckoutState: { enum: ["open", "paid", "cancelled", "expired"] },
  Storefront: whole({
    storefront: text("Its id."),
    name: text("Its name."),
    mode: ref("Mode"),
    currencies: { type: "array", items: text("ISO 4217.") },
    languages: { type: "array", items: text("BCP 47.") },
    groups: { type: "array", items: text("A shopper group's id.") },
    stages: { type: "array", items: text("A declared order stage.") },
  }),
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
  Event: whole({ event: text("The id of the news, under which it is sent.") }),
  Problem: {
    type: "object",
    required: ["type", "title", "status", "detail"],
    properties: {
      type: text("Which problem."),
      title: text("In short."),
      status: { type: "integer" },
      detail: text("What is wrong here."),
      errors: {
        type: "array",
        items: whole({
          pointer: text("JSON Pointer of the field."),
          code: text("What is wrong."),
          detail: text("In words."),
        }),
      },
    },
  },
};

import { embedPlaces } from "#core/buttons/places";
import { overs, sessionStates } from "#core/buttons/course";
import { buttonSizes } from "#core/buttons/button";
import { refusals as shopRefusals } from "#core/buttons/delivery";
import { basket, wholeBasket } from "./checkouts";
import { text, amount, json, whole, ref, maybe, maybeOf, refusals, notRead, byId } from "./words";

/** What stands on the shop's own pages: notices, buttons that pay, and the purchases that are begun with them. */

export const paths = {
  "/embeds": {
    post: {
      summary:
        "Ask what a page of the shop can show of a basket: notices of instalments, and buttons that pay",
      requestBody: { required: true, content: json(ref("Basket")) },
      responses: { "200": { description: "What to put in", content: json(ref("Embed")) }, ...refusals },
    },
  },
  "/purchases/{id}": {
    get: {
      summary: "Read a purchase that was begun by a button",
      parameters: [byId],
      responses: {
        "200": { description: "The purchase", content: json(ref("Purchase")) },
        ...notRead,
      },
    },
  },
  "/purchases/{id}/confirm": {
    post: {
      summary: "Order and pay a purchase that its shopper has looked at; once, however often it is asked",
      parameters: [byId],
      responses: {
        "200": { description: "The purchase as it is now", content: json(ref("Purchase")) },
        ...notRead,
      },
    },
  },
};

export const webhooks = {
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
};

export const schemas = {
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
          refused: { enum: [...shopRefusals] },
          says: text("Why, for the shopper, in their language.", { maxLength: 300 }),
        },
      },
    ],
  },
};

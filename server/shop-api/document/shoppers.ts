import { text, json, whole, ref, maybe, problemResponse, refusals, byShopper, byId } from "./words";

/** What shoppers have kept. */

export const paths = {
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
  "/shoppers/{shopper}/instruments/{id}/name": {
    put: {
      summary: "Have one called as the shopper wants",
      description: "It stands before what the provider calls it. Empty: it is called by that alone.",
      parameters: [byShopper, byId],
      requestBody: {
        required: true,
        content: json({
          type: "object",
          required: ["name"],
          properties: { name: text("In the shopper's words.", { maxLength: 40 }) },
        }),
      },
      responses: {
        "200": { description: "The list", content: json(ref("Instruments")) },
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
};

export const schemas = {
  Instruments: whole({
    instruments: {
      type: "array",
      description: "What the shopper has kept and can still use, the usual one first.",
      items: whole({
        instrument: text("Its id."),
        offer: text("The offer that it is paid through."),
        name: text(
          "As the shopper knows it: what they call it, and what its provider does. Never a whole number.",
        ),
        usual: { type: "boolean", description: "Whether it is shown first." },
        until: maybe("The day on which it ends, where the provider says so."),
        keptAt: text("RFC 3339.", { format: "date-time" }),
      }),
    },
  }),
  ShopperPage: whole({
    address: text("Send the shopper there.", { format: "uri" }),
    expiresAt: text("RFC 3339.", { format: "date-time" }),
  }),
};

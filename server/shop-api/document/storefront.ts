import {
  text,
  json,
  whole,
  ref,
  problemResponse,
  tooMany,
  refusals,
  readingRefused,
  paging,
  pageOf,
  byId,
  newsOf,
} from "./words";

/** The storefront behind a key, what it declares, and what the shop is told. */

export const paths = {
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
  "/news-address/test": {
    post: {
      summary: "Have a piece of news sent that says nothing but that news arrives",
      responses: {
        "202": { description: "On its way", content: json(ref("Event")) },
        ...readingRefused,
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
};

export const webhooks = {
  "news.test": newsOf("News arrives", {
    storefront: text("The storefront's id."),
    mode: ref("Mode"),
  }),
};

export const schemas = {
  Mode: { enum: ["test", "live"], description: "Test speaks to the providers' sandboxes." },
  Storefront: whole({
    storefront: text("Its id."),
    name: text("Its name."),
    mode: ref("Mode"),
    currencies: { type: "array", items: text("ISO 4217.") },
    languages: { type: "array", items: text("BCP 47.") },
    groups: { type: "array", items: text("A shopper group's id.") },
    stages: { type: "array", items: text("A declared order stage.") },
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

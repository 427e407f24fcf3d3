const text = (description: string, extra: object = {}) => ({ type: "string", description, ...extra });
const amount = (description: string) =>
  text(`${description} Decimal text with exactly the currency's decimals at most.`, { examples: ["12.30"] });
const json = (schema: object) => ({ "application/json": { schema } });
const ref = (name: string) => ({ $ref: `#/components/schemas/${name}` });
const problemResponse = {
  description: "A problem document (RFC 9457)",
  content: { "application/problem+json": { schema: ref("Problem") } },
};
const refusals = {
  "401": problemResponse,
  "409": problemResponse,
  "413": problemResponse,
  "415": problemResponse,
  "422": problemResponse,
};
const idempotency = {
  name: "Idempotency-Key",
  in: "header",
  required: true,
  schema: text("The same key with the same body is answered as the first time."),
};
const byId = { name: "id", in: "path", required: true, schema: { type: "string" } };

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
        responses: { "200": { description: "The storefront" }, "401": problemResponse },
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
        responses: { "200": { description: "The stages as kept" }, ...refusals },
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
        responses: { "200": { description: "Kept" }, ...refusals },
      },
    },
    "/offers": {
      post: {
        summary: "Ask which offers an order would get, and why others are withheld",
        parameters: [idempotency],
        requestBody: { required: true, content: json(ref("Order")) },
        responses: { "200": { description: "The decision" }, ...refusals },
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
        responses: { "200": { description: "The checkout" }, "404": problemResponse },
      },
    },
    "/payments/{id}": {
      get: {
        summary: "Read a payment",
        parameters: [byId],
        responses: {
          "200": { description: "The payment", content: json(ref("Payment")) },
          "404": problemResponse,
        },
      },
    },
  },
  components: {
    securitySchemes: {
      key: { type: "http", scheme: "bearer", description: "A key for each storefront and mode." },
    },
    schemas: {
      Order: {
        type: "object",
        required: [
          "reference",
          "currency",
          "lines",
          "shipping",
          "tax",
          "total",
          "country",
          "language",
          "group",
          "email",
          "returnAddress",
        ],
        properties: {
          reference: text("The shop's own order number.", { maxLength: 64 }),
          currency: text("ISO 4217."),
          lines: {
            type: "array",
            items: {
              type: "object",
              required: ["name", "quantity", "unit", "total"],
              properties: {
                name: text("As the shopper reads it."),
                quantity: { type: "integer", minimum: 1 },
                unit: amount("For one."),
                total: amount("unit × quantity."),
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
          email: text("The shopper's.", { format: "email" }),
          returnAddress: text("Where the shopper comes back to.", { format: "uri" }),
        },
      },
      Checkout: {
        type: "object",
        properties: {
          checkout: text("Its id."),
          address: text("The hosted page."),
          mode: { enum: ["test", "live"] },
          state: { enum: ["open", "paid", "cancelled", "expired"] },
          expiresAt: text("RFC 3339."),
        },
      },
      Payment: {
        type: "object",
        properties: {
          payment: text("Its id."),
          checkout: text("Its checkout."),
          order: text("The shop's order number."),
          state: text("Payment state."),
          stage: { type: ["string", "null"], description: "The order stage that follows." },
          currency: text("ISO 4217."),
          amount: amount("Asked for."),
          authorised: amount("Authorised."),
          captured: amount("Captured."),
          refunded: amount("Refunded."),
          version: { type: "integer", description: "Grows with every change." },
        },
      },
      Problem: {
        type: "object",
        properties: {
          type: text("Which problem."),
          title: text("In short."),
          status: { type: "integer" },
          detail: text("What is wrong here."),
          errors: {
            type: "array",
            items: {
              type: "object",
              properties: {
                pointer: text("JSON Pointer of the field."),
                code: text("What is wrong."),
                detail: text("In words."),
              },
            },
          },
        },
      },
    },
  },
});

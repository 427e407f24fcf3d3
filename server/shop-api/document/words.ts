/** What the subjects of the shop API's document are put together from. */

export const text = (description: string, extra: object = {}) => ({ type: "string", description, ...extra });
export const amount = (description: string) =>
  text(`${description} Decimal text with no more decimals than the currency has.`, { examples: ["12.30"] });
export const json = (schema: object) => ({ "application/json": { schema } });
/** An object that always has exactly these. */
export const whole = (properties: Record<string, object>) => ({
  type: "object",
  required: Object.keys(properties),
  properties,
  additionalProperties: false,
});
export const ref = (name: string) => ({ $ref: `#/components/schemas/${name}` });

export const maybe = (description: string, extra: object = {}) => ({
  type: ["string", "null"],
  description,
  ...extra,
});

export const maybeOf = (name: string, description: string) => ({
  anyOf: [ref(name), { type: "null" }],
  description,
});

export const problemResponse = {
  description: "A problem document (RFC 9457)",
  content: { "application/problem+json": { schema: ref("Problem") } },
};
export const tooMany = {
  ...problemResponse,
  description: "The key called too often. Come back once Retry-After (seconds) is over; nothing was done.",
  headers: { "Retry-After": { schema: { type: "integer", minimum: 1 } } },
};
export const refusals = {
  "400": problemResponse,
  "401": problemResponse,
  "409": problemResponse,
  "413": problemResponse,
  "415": problemResponse,
  "422": problemResponse,
  "429": tooMany,
  "503": problemResponse,
};
export const idempotency = {
  name: "Idempotency-Key",
  in: "header",
  required: true,
  schema: text("The same key with the same body is answered as the first time."),
};
export const readingRefused = {
  "401": problemResponse,
  "422": problemResponse,
  "429": tooMany,
  "503": problemResponse,
};
/** What reading one thing is refused with. */
export const notRead = {
  "401": problemResponse,
  "404": problemResponse,
  "429": tooMany,
  "503": problemResponse,
};
export const byReference = {
  name: "reference",
  in: "path",
  required: true,
  schema: text("The shop's order number."),
};
export const query = (name: string, schema: object) => ({ name, in: "query", required: false, schema });
export const paging = [
  query("after", text("The cursor that came as next.")),
  query("since", text("Not older than this, RFC 3339.", { format: "date-time" })),
  query("until", text("Not newer than this, RFC 3339.", { format: "date-time" })),
];
export const pageOf = (name: string, items: object) => ({
  type: "object",
  required: [name, "next"],
  properties: {
    [name]: { type: "array", items },
    next: { type: ["string", "null"], description: "Where the next page begins; null on the last." },
  },
});
export const byShopper = {
  name: "shopper",
  in: "path",
  required: true,
  schema: text("The shopper's id, as the shop writes it in orders.", { maxLength: 64 }),
};
export const byId = { name: "id", in: "path", required: true, schema: { type: "string" } };

/** One piece of news as the shop hears it: signed by the Standard Webhooks specification, answered with any 2xx. */
export const newsOf = (summary: string, data: Record<string, object>, description = "") => ({
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

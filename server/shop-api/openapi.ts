import * as checkouts from "./document/checkouts";
import * as orders from "./document/orders";
import * as pages from "./document/pages";
import * as shoppers from "./document/shoppers";
import * as storefront from "./document/storefront";
import * as subscriptions from "./document/subscriptions";

/** The shop API as an OpenAPI 3.1 document, put together from what each subject says of itself. */
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
    ...storefront.paths,
    ...checkouts.paths,
    ...orders.paths,
    ...pages.paths,
    ...shoppers.paths,
    ...subscriptions.paths,
  },
  webhooks: {
    ...storefront.webhooks,
    ...checkouts.webhooks,
    ...orders.webhooks,
    ...pages.webhooks,
    ...subscriptions.webhooks,
  },
  components: {
    securitySchemes: {
      key: { type: "http", scheme: "bearer", description: "A key for each storefront and mode." },
    },
    schemas: {
      ...storefront.schemas,
      ...checkouts.schemas,
      ...orders.schemas,
      ...pages.schemas,
      ...shoppers.schemas,
      ...subscriptions.schemas,
    },
  },
});

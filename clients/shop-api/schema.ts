// Made from the shop API's description by node scripts/shop-client.mjs; change that, not this file.
export interface paths {
  "/checkouts": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    put?: never;
    /** Open a checkout for an order */
    post: {
      parameters: {
        query?: never;
        header: {
          "Idempotency-Key": string;
        };
        path?: never;
        cookie?: never;
      };
      requestBody: {
        content: {
          "application/json": components["schemas"]["Order"];
        };
      };
      responses: {
        /** @description Send the shopper to its address */
        201: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["Checkout"];
          };
        };
        /** @description A problem document (RFC 9457) */
        400: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        409: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        413: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        415: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/checkouts/{id}": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    /** Read a checkout with its payments */
    get: {
      parameters: {
        query?: never;
        header?: never;
        path: {
          id: string;
        };
        cookie?: never;
      };
      requestBody?: never;
      responses: {
        /** @description The checkout */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["CheckoutWithPayments"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        404: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    put?: never;
    post?: never;
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/checkouts/{id}/expire": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    put?: never;
    /** End an open checkout before its time */
    post: {
      parameters: {
        query?: never;
        header: {
          "Idempotency-Key": string;
        };
        path: {
          id: string;
        };
        cookie?: never;
      };
      requestBody?: never;
      responses: {
        /** @description Ended */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["CheckoutEnd"];
          };
        };
        /** @description A problem document (RFC 9457) */
        400: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        404: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        409: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        413: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        415: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/embeds": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    put?: never;
    /** Ask what a page of the shop can show of a basket: notices of instalments, and buttons that pay */
    post: {
      parameters: {
        query?: never;
        header?: never;
        path?: never;
        cookie?: never;
      };
      requestBody: {
        content: {
          "application/json": components["schemas"]["Basket"];
        };
      };
      responses: {
        /** @description What to put in */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["Embed"];
          };
        };
        /** @description A problem document (RFC 9457) */
        400: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        409: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        413: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        415: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/events": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    /**
     * Everything the shop was or is to be told, the oldest first
     * @description What was missed while the shop was away can be read here, from after the last id it took.
     */
    get: {
      parameters: {
        query?: {
          after?: string;
          since?: string;
          until?: string;
        };
        header?: never;
        path?: never;
        cookie?: never;
      };
      requestBody?: never;
      responses: {
        /** @description A page */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": {
              events: {
                data: Record<string, never>;
                /** @description Its cursor, and the webhook-id it was sent under. */
                id: string;
                /**
                 * Format: date-time
                 * @description RFC 3339.
                 */
                timestamp: string;
                /** @description Which news. */
                type: string;
              }[];
              /** @description Where the next page begins; null on the last. */
              next: string | null;
            };
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    put?: never;
    post?: never;
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/events/{id}/again": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    put?: never;
    /** Have a piece of news sent once more, whether it was taken or not */
    post: {
      parameters: {
        query?: never;
        header?: never;
        path: {
          id: string;
        };
        cookie?: never;
      };
      requestBody?: never;
      responses: {
        /** @description On its way */
        202: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["Event"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        404: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/news-address": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    /** Say where news goes, and with which Standard Webhooks secret it is signed */
    put: {
      parameters: {
        query?: never;
        header?: never;
        path?: never;
        cookie?: never;
      };
      requestBody: {
        content: {
          "application/json": {
            /** @description Where news is sent by POST. */
            address: string;
            /** @description whsec_ and 24 bytes or more in base64. */
            secret: string;
          };
        };
      };
      responses: {
        /** @description Kept, for the key's own mode */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": {
              /** @description Where news goes. */
              address: string;
              mode: components["schemas"]["Mode"];
            };
          };
        };
        /** @description A problem document (RFC 9457) */
        400: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        409: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        413: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        415: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    post?: never;
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/news-address/test": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    put?: never;
    /** Have a piece of news sent that says nothing but that news arrives */
    post: {
      parameters: {
        query?: never;
        header?: never;
        path?: never;
        cookie?: never;
      };
      requestBody?: never;
      responses: {
        /** @description On its way */
        202: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["Event"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/offers": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    put?: never;
    /** Ask which offers an order would get, and why others are withheld */
    post: {
      parameters: {
        query?: never;
        header?: never;
        path?: never;
        cookie?: never;
      };
      requestBody: {
        content: {
          "application/json": components["schemas"]["Order"];
        };
      };
      responses: {
        /** @description The decision */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["Decision"];
          };
        };
        /** @description A problem document (RFC 9457) */
        400: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        409: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        413: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        415: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/orders": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    /** List orders, the newest first */
    get: {
      parameters: {
        query?: {
          after?: string;
          since?: string;
          state?: components["schemas"]["OrderState"];
          until?: string;
        };
        header?: never;
        path?: never;
        cookie?: never;
      };
      requestBody?: never;
      responses: {
        /** @description A page */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": {
              /** @description Where the next page begins; null on the last. */
              next: string | null;
              orders: components["schemas"]["OrderStanding"][];
            };
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    put?: never;
    post?: never;
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/orders/{reference}": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    /** Read an order by your own reference, with every payment that was tried */
    get: {
      parameters: {
        query?: never;
        header?: never;
        path: {
          reference: string;
        };
        cookie?: never;
      };
      requestBody?: never;
      responses: {
        /** @description The order */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["OrderWithPayments"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        404: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    put?: never;
    post?: never;
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/orders/{reference}/cancel": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    put?: never;
    /** Cancel an order that is not paid; what is asked of a shopper is let go of */
    post: {
      parameters: {
        query?: never;
        header: {
          "Idempotency-Key": string;
        };
        path: {
          reference: string;
        };
        cookie?: never;
      };
      requestBody?: never;
      responses: {
        /** @description Cancelled */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["OrderStanding"];
          };
        };
        /** @description A problem document (RFC 9457) */
        400: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        404: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        409: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        413: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        415: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/payments": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    /** List payments, the newest first */
    get: {
      parameters: {
        query?: {
          after?: string;
          order?: string;
          since?: string;
          state?:
            | "created"
            | "pending"
            | "authorised"
            | "captured"
            | "partly-captured"
            | "voided"
            | "declined"
            | "failed"
            | "expired"
            | "cancelled"
            | "refunded"
            | "partly-refunded"
            | "disputed";
          until?: string;
        };
        header?: never;
        path?: never;
        cookie?: never;
      };
      requestBody?: never;
      responses: {
        /** @description A page */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": {
              /** @description Where the next page begins; null on the last. */
              next: string | null;
              payments: components["schemas"]["Payment"][];
            };
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    put?: never;
    post?: never;
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/payments/{id}": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    /** Read a payment */
    get: {
      parameters: {
        query?: never;
        header?: never;
        path: {
          id: string;
        };
        cookie?: never;
      };
      requestBody?: never;
      responses: {
        /** @description The payment */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["Payment"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        404: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    put?: never;
    post?: never;
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/payments/{id}/{act}": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    put?: never;
    /**
     * Capture, release, void or refund a payment
     * @description Without an amount: all there is. 202 means that its end is not known yet; send the same again, with the same Idempotency-Key, to hear how it ended. An order.changed follows either way.
     */
    post: {
      parameters: {
        query?: never;
        header: {
          "Idempotency-Key": string;
        };
        path: {
          act: "capture" | "release" | "void" | "refund";
          id: string;
        };
        cookie?: never;
      };
      requestBody?: {
        content: {
          "application/json": components["schemas"]["Act"];
        };
      };
      responses: {
        /** @description Done */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["Acted"];
          };
        };
        /** @description Not known yet */
        202: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["Acted"];
          };
        };
        /** @description A problem document (RFC 9457) */
        400: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        404: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        409: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        413: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        415: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/plans": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    /** To what shoppers can subscribe */
    get: {
      parameters: {
        query?: never;
        header?: never;
        path?: never;
        cookie?: never;
      };
      requestBody?: never;
      responses: {
        /** @description The plans */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["Plans"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    put?: never;
    post?: never;
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/purchases/{id}": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    /** Read a purchase that was begun by a button */
    get: {
      parameters: {
        query?: never;
        header?: never;
        path: {
          id: string;
        };
        cookie?: never;
      };
      requestBody?: never;
      responses: {
        /** @description The purchase */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["Purchase"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        404: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    put?: never;
    post?: never;
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/purchases/{id}/confirm": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    put?: never;
    /** Order and pay a purchase that its shopper has looked at; once, however often it is asked */
    post: {
      parameters: {
        query?: never;
        header?: never;
        path: {
          id: string;
        };
        cookie?: never;
      };
      requestBody?: never;
      responses: {
        /** @description The purchase as it is now */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["Purchase"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        404: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/shoppers/{shopper}": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    put?: never;
    post?: never;
    /** Erase a shopper: everything kept is forgotten, and nothing says whose it was */
    delete: {
      parameters: {
        query?: never;
        header?: never;
        path: {
          shopper: string;
        };
        cookie?: never;
      };
      requestBody?: never;
      responses: {
        /** @description How many there were */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": {
              erased: number;
            };
          };
        };
        /** @description A problem document (RFC 9457) */
        400: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        404: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        409: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        413: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        415: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/shoppers/{shopper}/instruments": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    /** What a shopper has kept for the next time */
    get: {
      parameters: {
        query?: never;
        header?: never;
        path: {
          shopper: string;
        };
        cookie?: never;
      };
      requestBody?: never;
      responses: {
        /** @description The list */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["Instruments"];
          };
        };
        /** @description A problem document (RFC 9457) */
        400: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        404: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        409: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        413: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        415: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    put?: never;
    post?: never;
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/shoppers/{shopper}/instruments/{id}": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    put?: never;
    post?: never;
    /** Have one forgotten, here at once and at the provider as soon as it answers */
    delete: {
      parameters: {
        query?: never;
        header?: never;
        path: {
          id: string;
          shopper: string;
        };
        cookie?: never;
      };
      requestBody?: never;
      responses: {
        /** @description What is left */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["Instruments"];
          };
        };
        /** @description A problem document (RFC 9457) */
        400: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        404: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        409: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        413: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        415: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/shoppers/{shopper}/instruments/{id}/name": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    /**
     * Have one called as the shopper wants
     * @description It stands before what the provider calls it. Empty: it is called by that alone.
     */
    put: {
      parameters: {
        query?: never;
        header?: never;
        path: {
          id: string;
          shopper: string;
        };
        cookie?: never;
      };
      requestBody: {
        content: {
          "application/json": {
            /** @description In the shopper's words. */
            name: string;
          };
        };
      };
      responses: {
        /** @description The list */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["Instruments"];
          };
        };
        /** @description A problem document (RFC 9457) */
        400: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        404: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        409: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        413: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        415: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    post?: never;
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/shoppers/{shopper}/instruments/{id}/usual": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    /** Have one shown first */
    put: {
      parameters: {
        query?: never;
        header?: never;
        path: {
          id: string;
          shopper: string;
        };
        cookie?: never;
      };
      requestBody?: never;
      responses: {
        /** @description The list */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["Instruments"];
          };
        };
        /** @description A problem document (RFC 9457) */
        400: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        404: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        409: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        413: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        415: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    post?: never;
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/shoppers/{shopper}/page": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    put?: never;
    /** Open a page on which the shopper sees and forgets what they have kept */
    post: {
      parameters: {
        query?: never;
        header?: never;
        path: {
          shopper: string;
        };
        cookie?: never;
      };
      requestBody: {
        content: {
          "application/json": {
            /** @description The shopper's, BCP 47. */
            language: string;
            /**
             * Format: uri
             * @description Where they go back to.
             */
            returnAddress: string;
          };
        };
      };
      responses: {
        /** @description Its address */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["ShopperPage"];
          };
        };
        /** @description A problem document (RFC 9457) */
        400: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        404: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        409: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        413: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        415: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/stages": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    /** Declare the shop's order stages */
    put: {
      parameters: {
        query?: never;
        header?: never;
        path?: never;
        cookie?: never;
      };
      requestBody: {
        content: {
          "application/json": {
            stages: string[];
          };
        };
      };
      responses: {
        /** @description The stages as kept, each once */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": {
              stages: string[];
            };
          };
        };
        /** @description A problem document (RFC 9457) */
        400: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        409: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        413: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        415: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    post?: never;
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/storefront": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    /** Which storefront and mode the key speaks for */
    get: {
      parameters: {
        query?: never;
        header?: never;
        path?: never;
        cookie?: never;
      };
      requestBody?: never;
      responses: {
        /** @description The storefront */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["Storefront"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    put?: never;
    post?: never;
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/subscriptions": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    /** List subscriptions, the newest first */
    get: {
      parameters: {
        query?: {
          after?: string;
          shopper?: string;
          state?: "waiting" | "running" | "behind" | "paused" | "ended";
        };
        header?: never;
        path?: never;
        cookie?: never;
      };
      requestBody?: never;
      responses: {
        /** @description A page */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": {
              /** @description Where the next page begins; null on the last. */
              next: string | null;
              subscriptions: components["schemas"]["Subscription"][];
            };
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    put?: never;
    /**
     * Begin a subscription
     * @description Send the shopper to its address; once they have paid there it runs by itself. With an instrument that they have kept, and the words in which they agreed, it is charged at once: a subscription.changed tells what came of it.
     */
    post: {
      parameters: {
        query?: never;
        header: {
          "Idempotency-Key": string;
        };
        path?: never;
        cookie?: never;
      };
      requestBody: {
        content: {
          "application/json": components["schemas"]["NewSubscription"];
        };
      };
      responses: {
        /** @description It waits to be paid */
        201: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["BegunSubscription"];
          };
        };
        /** @description A problem document (RFC 9457) */
        400: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        409: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        413: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        415: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/subscriptions/{reference}": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    /** Read a subscription by your own number, with every period so far */
    get: {
      parameters: {
        query?: never;
        header?: never;
        path: {
          reference: string;
        };
        cookie?: never;
      };
      requestBody?: never;
      responses: {
        /** @description The subscription */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["SubscriptionWithPeriods"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        404: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    put?: never;
    post?: never;
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/subscriptions/{reference}/{act}": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    put?: never;
    /**
     * Pause, resume, skip the next period, cancel at once or at the end, or go on after all
     * @description What is so already is answered as if it had been done.
     */
    post: {
      parameters: {
        query?: never;
        header: {
          "Idempotency-Key": string;
        };
        path: {
          act: "pause" | "resume" | "skip" | "cancel" | "cancel-at-end" | "go-on";
          reference: string;
        };
        cookie?: never;
      };
      requestBody?: never;
      responses: {
        /** @description Done */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["SubscriptionWithPeriods"];
          };
        };
        /** @description A problem document (RFC 9457) */
        400: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        404: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        409: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        413: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        415: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/subscriptions/{reference}/change": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    put?: never;
    /** Change plan or quantity from the next period on */
    post: {
      parameters: {
        query?: never;
        header: {
          "Idempotency-Key": string;
        };
        path: {
          reference: string;
        };
        cookie?: never;
      };
      requestBody: {
        content: {
          "application/json": components["schemas"]["SubscriptionChange"];
        };
      };
      responses: {
        /** @description Changed */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["SubscriptionWithPeriods"];
          };
        };
        /** @description A problem document (RFC 9457) */
        400: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        404: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        409: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        413: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        415: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "/subscriptions/{reference}/instrument": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    put?: never;
    /** Charge it to something else that its shopper has kept */
    post: {
      parameters: {
        query?: never;
        header: {
          "Idempotency-Key": string;
        };
        path: {
          reference: string;
        };
        cookie?: never;
      };
      requestBody: {
        content: {
          "application/json": {
            /** @description Something kept, of which the shopper agreed to be charged. */
            instrument: string;
          };
        };
      };
      responses: {
        /** @description Changed */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["SubscriptionWithPeriods"];
          };
        };
        /** @description A problem document (RFC 9457) */
        400: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        401: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        404: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        409: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        413: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        415: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        422: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description The key called too often. Come back once Retry-After (seconds) is over; nothing was done. */
        429: {
          headers: {
            "Retry-After"?: number;
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
        /** @description A problem document (RFC 9457) */
        503: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/problem+json": components["schemas"]["Problem"];
          };
        };
      };
    };
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
}
export interface webhooks {
  "button.question": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    put?: never;
    /**
     * A shopper is buying by a button: the shop is asked, or told
     * @description Goes to answersAt of the page that the button stood on, signed as news is (with the secret of the news address), and has to be answered within 3 seconds. button.delivery asks what it comes to at an address; button.order has the order made, and asks again under the same basket until it was answered: the shop makes one order for a basket and answers with it each time; button.closed says that nothing came of an order that was asked for.
     */
    post: {
      parameters: {
        query?: never;
        header?: never;
        path?: never;
        cookie?: never;
      };
      requestBody?: {
        content: {
          "application/json": components["schemas"]["ButtonQuestion"];
        };
      };
      responses: {
        /** @description The answer; anything to button.closed */
        200: {
          headers: {
            [name: string]: unknown;
          };
          content: {
            "application/json": components["schemas"]["ButtonAnswer"];
          };
        };
      };
    };
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "checkout.closed": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    put?: never;
    /** A checkout ended without being paid */
    post: {
      parameters: {
        query?: never;
        header?: never;
        path?: never;
        cookie?: never;
      };
      requestBody: {
        content: {
          "application/json": {
            data: {
              /** @description Its id. */
              checkout: string;
              mode: components["schemas"]["Mode"];
              /** @description The shop's order number. */
              order: string;
              /** @enum {unknown} */
              state: "cancelled" | "expired";
            };
            /**
             * Format: date-time
             * @description When it was said, RFC 3339.
             */
            timestamp: string;
            /** @description Which news. */
            type: string;
          };
        };
      };
      responses: {
        /** @description Taken. Anything but 2xx has it sent again, for three days. */
        204: {
          headers: {
            [name: string]: unknown;
          };
          content?: never;
        };
      };
    };
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "news.test": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    put?: never;
    /** News arrives */
    post: {
      parameters: {
        query?: never;
        header?: never;
        path?: never;
        cookie?: never;
      };
      requestBody: {
        content: {
          "application/json": {
            data: {
              mode: components["schemas"]["Mode"];
              /** @description The storefront's id. */
              storefront: string;
            };
            /**
             * Format: date-time
             * @description When it was said, RFC 3339.
             */
            timestamp: string;
            /** @description Which news. */
            type: string;
          };
        };
      };
      responses: {
        /** @description Taken. Anything but 2xx has it sent again, for three days. */
        204: {
          headers: {
            [name: string]: unknown;
          };
          content?: never;
        };
      };
    };
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "order.changed": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    put?: never;
    /**
     * An order's money or stage has changed
     * @description Sent for each change, with the payment that moved. Of two, the one with the higher version is the truth.
     */
    post: {
      parameters: {
        query?: never;
        header?: never;
        path?: never;
        cookie?: never;
      };
      requestBody: {
        content: {
          "application/json": {
            data: {
              order: components["schemas"]["OrderStanding"];
              payment: components["schemas"]["Payment"];
            };
            /**
             * Format: date-time
             * @description When it was said, RFC 3339.
             */
            timestamp: string;
            /** @description Which news. */
            type: string;
          };
        };
      };
      responses: {
        /** @description Taken. Anything but 2xx has it sent again, for three days. */
        204: {
          headers: {
            [name: string]: unknown;
          };
          content?: never;
        };
      };
    };
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "subscription.changed": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    put?: never;
    /**
     * Something happened to a subscription
     * @description Of two, the one with the higher version is the truth. What concerns an order names it as order; where the shopper is asked for something else to pay with, address is where they do.
     */
    post: {
      parameters: {
        query?: never;
        header?: never;
        path?: never;
        cookie?: never;
      };
      requestBody: {
        content: {
          "application/json": {
            data: {
              happened: {
                /** @description Of which period. */
                number?: number;
                /** @enum {unknown} */
                what:
                  | "begun"
                  | "opened"
                  | "paid"
                  | "refused"
                  | "asked"
                  | "instrument-ends"
                  | "instrument-changed"
                  | "paused"
                  | "resumed"
                  | "skipped"
                  | "let-off"
                  | "changed"
                  | "ends-then"
                  | "goes-on"
                  | "ended";
              } & {
                [key: string]: unknown;
              };
              subscription: components["schemas"]["Subscription"];
            };
            /**
             * Format: date-time
             * @description When it was said, RFC 3339.
             */
            timestamp: string;
            /** @description Which news. */
            type: string;
          };
        };
      };
      responses: {
        /** @description Taken. Anything but 2xx has it sent again, for three days. */
        204: {
          headers: {
            [name: string]: unknown;
          };
          content?: never;
        };
      };
    };
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
  "test-orders.close": {
    parameters: {
      query?: never;
      header?: never;
      path?: never;
      cookie?: never;
    };
    get?: never;
    put?: never;
    /** The storefront has gone live: close these test orders */
    post: {
      parameters: {
        query?: never;
        header?: never;
        path?: never;
        cookie?: never;
      };
      requestBody: {
        content: {
          "application/json": {
            data: {
              orders: string[];
            };
            /**
             * Format: date-time
             * @description When it was said, RFC 3339.
             */
            timestamp: string;
            /** @description Which news. */
            type: string;
          };
        };
      };
      responses: {
        /** @description Taken. Anything but 2xx has it sent again, for three days. */
        204: {
          headers: {
            [name: string]: unknown;
          };
          content?: never;
        };
      };
    };
    delete?: never;
    options?: never;
    head?: never;
    patch?: never;
    trace?: never;
  };
}
export interface components {
  schemas: {
    Act: {
      /**
       * @description How much; all there is, when it is left out. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      amount?: string;
      /** @description Of a capture: nothing more will be captured, so that the rest is let go. */
      final?: boolean;
      /** @description Instead of an amount: which lines of the order, by their place from 0, and how much of each. What was named before for the same kind of act is not named again; tax that is not in the prices is shared. */
      lines?: {
        line: number;
        quantity: number;
      }[];
      /** @description For the books. */
      reason?: string;
      /** @description With lines: the shipping as well. */
      shipping?: boolean;
    };
    Acted: {
      /** @description False while its end is not known. */
      done: boolean;
      payment: components["schemas"]["Payment"];
    };
    /** @description What a page of the shop shows: one product, or all that is in the basket. */
    Basket: {
      billTo?: components["schemas"]["Place"];
      /** @description What buttons that pay need; left out: the page has none. */
      buttons?: {
        /**
         * Format: uri
         * @description Where the shop answers what delivery and tax come to, and makes the order.
         */
        answersAt: string;
        /** @description The shop's own name of what is bought: one order comes of it, whatever is pressed, and the shop answers for it. */
        basket: string;
        /**
         * Format: uri
         * @description Where a shopper looks once more before they order, where the offer says that they do so at the shop; it gets the purchase's id as `purchase`.
         */
        lookAddress?: string;
        /**
         * Format: uri
         * @description Where a shopper comes back to who does not buy.
         */
        returnAddress: string;
      };
      /** @description ISO 3166-1 alpha-2. */
      country: string;
      /** @description ISO 4217. */
      currency: string;
      /** @description The shop's own name for how it is delivered, which rules can ask for. */
      delivery?: string;
      /** @description A shopper group of the storefront. */
      group: string;
      /** @description BCP 47. */
      language: string;
      lines: {
        /** @description The shop's own name for what kind of goods it is, which rules can ask for. */
        kind?: string;
        /** @description As the shopper reads it. */
        name: string;
        /** @description With up to three decimals. */
        quantity: number;
        /**
         * @description unit × quantity, rounded to the minor unit. Decimal text with no more decimals than the currency has.
         * @example 12.30
         */
        total: string;
        /**
         * @description For one; negative for a discount. Decimal text with no more decimals than the currency has.
         * @example 12.30
         */
        unit: string;
      }[];
      /**
       * @description From where the shopper's browser asks: scheme and host of the page.
       * @example https://shop.example
       */
      origin: string;
      /**
       * @description Which page it is.
       * @enum {unknown}
       */
      place: "home" | "product" | "basket" | "small-basket" | "checkout";
      /** @description Whether the shopper has ordered before. */
      returning?: boolean;
      /**
       * @description Zero if none. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      shipping: string;
      shipTo?: components["schemas"]["Place"];
      /**
       * @description The tax in the order. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      tax: string;
      /**
       * @description Whether lines and shipping hold the tax already.
       * @default true
       */
      taxIncluded: boolean;
      /**
       * @description What the shopper pays. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      total: string;
      /** @description The shopper's User-Agent, which rules about devices go by. */
      userAgent?: string;
      /** @description Grams, which rules can ask for. */
      weight?: number;
    };
    BegunSubscription: {
      /**
       * Format: uri
       * @description Send the shopper there, unless it is charged to what they have kept.
       */
      address: string;
      /**
       * @description What every period comes to. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      amount: string;
      /**
       * Format: date-time
       * @description When it last changed, RFC 3339.
       */
      at: string;
      /** @description Its checkout. */
      checkout: string;
      /** @description ISO 4217. */
      currency: string;
      /**
       * @description What is paid at the beginning. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      due: string;
      /**
       * @description Why it is over.
       * @enum {unknown}
       */
      ending: "cancelled" | "complete" | "unpaid" | "never-begun" | null;
      /** @description Whether it ends when the next period would begin. */
      ends: boolean;
      mode: components["schemas"]["Mode"];
      /**
       * Format: date-time
       * @description When the next period is charged, RFC 3339.
       */
      nextAt: string | null;
      /** @description Its plan. */
      plan: string;
      quantity: number;
      /** @description The shop's own number of it. */
      reference: string;
      /** @description Whose it is; empty once they were erased. */
      shopper: string;
      /** @enum {unknown} */
      state: "waiting" | "running" | "behind" | "paused" | "ended";
      /** @description Its id. */
      subscription: string;
      /** @description Grows with every change: the highest one is the truth. */
      version: number;
    };
    ButtonAnswer:
      | {
          deliveries: {
            /** @description The shop's own. */
            id: string;
            /** @description As the shopper reads it. */
            name: string;
            /**
             * @description Its price. Decimal text with no more decimals than the currency has.
             * @example 12.30
             */
            shipping: string;
            /**
             * @description The tax in the whole order then. Decimal text with no more decimals than the currency has.
             * @example 12.30
             */
            tax: string;
            /**
             * @description What the whole order comes to then. Decimal text with no more decimals than the currency has.
             * @example 12.30
             */
            total: string;
          }[];
          lines: {
            /** @description The shop's own name for what kind of goods it is, which rules can ask for. */
            kind?: string;
            /** @description As the shopper reads it. */
            name: string;
            /** @description With up to three decimals. */
            quantity: number;
            /**
             * @description unit × quantity, rounded to the minor unit. Decimal text with no more decimals than the currency has.
             * @example 12.30
             */
            total: string;
            /**
             * @description For one; negative for a discount. Decimal text with no more decimals than the currency has.
             * @example 12.30
             */
            unit: string;
          }[];
          /**
           * @description Whether lines and shipping hold the tax already.
           * @default true
           */
          taxIncluded: boolean;
        }
      | components["schemas"]["Order"]
      | {
          /** @enum {unknown} */
          refused: "not-served" | "sold-out" | "changed";
          /** @description Why, for the shopper, in their language. */
          says?: string;
        };
    ButtonQuestion: {
      data: {
        address?: components["schemas"]["PurchaseAddress"];
        /** @description The shop's own name of what is bought. */
        basket: string;
        contact?: components["schemas"]["PurchaseContact"];
        /** @description ISO 4217. */
        currency?: string;
        /** @description Of an order: the delivery that was chosen. */
        delivery?: string;
        /** @description The shopper's, BCP 47. */
        language?: string;
        /** @description The offer. */
        offer?: string;
        /** @description The purchase. */
        session: string;
        /**
         * @description Of an order: what the shopper agreed to; the order must not come to anything else. Decimal text with no more decimals than the currency has.
         * @example 12.30
         */
        total?: string;
      };
      /**
       * Format: date-time
       * @description RFC 3339.
       */
      timestamp: string;
      /** @enum {unknown} */
      type: "button.delivery" | "button.order" | "button.closed";
    };
    Checkout: {
      /**
       * Format: uri
       * @description The hosted page.
       */
      address: string;
      /** @description Its id. */
      checkout: string;
      /**
       * Format: date-time
       * @description RFC 3339.
       */
      expiresAt: string;
      mode: components["schemas"]["Mode"];
      state: components["schemas"]["CheckoutState"];
    };
    CheckoutEnd: {
      /** @description Its id. */
      checkout: string;
      /** @description The shop's order number. */
      order: string;
      state: components["schemas"]["CheckoutState"];
    };
    /** @enum {unknown} */
    CheckoutState: "open" | "paid" | "cancelled" | "expired";
    CheckoutWithPayments: {
      /** @description Its id. */
      checkout: string;
      /** @description ISO 4217. */
      currency: string;
      /** @description The shop's order number. */
      order: string;
      payments: components["schemas"]["Payment"][];
      /**
       * @description What of it this checkout asks for. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      payNow: string;
      state: components["schemas"]["CheckoutState"];
      /**
       * @description What the order comes to. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      total: string;
    };
    Decision: {
      shown: {
        /** @description What choosing it adds to the total, as decimal text; with a minus it takes off. The hosted checkout adds it by itself. */
        charge: string;
        /** @description The shopper's hint, or empty. */
        hint: string;
        /** @description The offer. */
        id: string;
        /** @description In the order's language. */
        label: string;
        /** @description Where its picture is, PNG; null where it has none of the shop's own. */
        picture: string | null;
      }[];
      withheld: {
        because: {
          /** @enum {unknown} */
          code:
            | "switched-off"
            | "no-keys"
            | "not-live"
            | "fallen-back"
            | "no-domain"
            | "no-carrier"
            | "in-trouble"
            | "country"
            | "currency-not-offered"
            | "currency-not-taken"
            | "currency-not-charged"
            | "below-least"
            | "above-greatest"
            | "below-minimum"
            | "above-maximum"
            | "not-for-country"
            | "fee-not-taken"
            | "charge-out-of-proportion"
            | "group"
            | "zone"
            | "goods"
            | "delivery"
            | "weight"
            | "time"
            | "shopper"
            | "tries"
            | "device"
            | "none-of"
            | "no-plan";
          /** @description What the reason is about: amounts as decimal text, countries by their codes. */
          values: {
            [key: string]: unknown;
          };
        }[];
        /** @description The offer. */
        id: string;
        /** @description In the order's language. */
        label: string;
      }[];
    };
    Embed: {
      /** @description The buttons that pay, in the order of the offers; empty where none stands on this page. */
      buttons: {
        /** @description In which language it is, BCP 47. */
        language: string;
        /** @description All of it as an HTML element, to be put in as it stands. */
        markup: string;
        /** @description The offer. */
        offer: string;
        /**
         * @description How high it is: 40, 48 or 56 pixels.
         * @enum {unknown}
         */
        size: "small" | "usual" | "large";
        /** @description What stands on it, in the shopper's language. */
        text: string;
      }[];
      /**
       * Format: date-time
       * @description RFC 3339.
       */
      expiresAt: string;
      /** @description In the order of the offers; empty where nothing is to be told on this page. */
      notices: {
        /** @description In which language it is, BCP 47. */
        language: string;
        lines: string[];
        /** @description All of it as an HTML element, to be put in as it stands. */
        markup: string;
        /** @description What stands on the press that opens all plans. */
        more: string;
        /** @description The offer. */
        offer: string;
      }[];
      script: {
        /**
         * Format: uri
         * @description The script that goes on the page, once.
         */
        address: string;
        /** @description Its Subresource Integrity. */
        integrity: string;
      };
      /** @description With it the page asks, from its origin and about this basket, for half an hour. */
      token: string;
    };
    Event: {
      /** @description The id of the news, under which it is sent. */
      event: string;
    };
    Instruments: {
      /** @description What the shopper has kept and can still use, the usual one first. */
      instruments: {
        /** @description Its id. */
        instrument: string;
        /**
         * Format: date-time
         * @description RFC 3339.
         */
        keptAt: string;
        /** @description As the shopper knows it: what they call it, and what its provider does. Never a whole number. */
        name: string;
        /** @description The offer that it is paid through. */
        offer: string;
        /** @description The day on which it ends, where the provider says so. */
        until: string | null;
        /** @description Whether it is shown first. */
        usual: boolean;
      }[];
    };
    /**
     * @description Test speaks to the providers' sandboxes.
     * @enum {unknown}
     */
    Mode: "test" | "live";
    NewSubscription: {
      billTo?: components["schemas"]["Place"];
      /** @description ISO 3166-1 alpha-2. */
      country: string;
      /** @description ISO 4217. */
      currency: string;
      /**
       * Format: email
       * @description Where they are asked for something else to pay with, if need be.
       */
      email?: string;
      /** @description A shopper group of the storefront. */
      group: string;
      /** @description Something they have kept, which is charged at once. Left out: they pay at the checkout. */
      instrument?: string;
      /** @description BCP 47. */
      language: string;
      /** @description With an instrument: the words in which they agreed to be charged. */
      mandate?: string;
      /** @description A plan of the storefront. */
      plan: string;
      /** @default 1 */
      quantity: number;
      /** @description The shop's own number of it, and the order number of its first order; those that follow get a hyphen and their number. */
      reference: string;
      /**
       * Format: uri
       * @description Where the shopper comes back to.
       */
      returnAddress: string;
      shipTo?: components["schemas"]["Place"];
      /** @description Who the shopper is, in the shop's own words: they have to be signed in. */
      shopper: string;
    };
    Order: {
      billTo?: components["schemas"]["Place"];
      /** @description ISO 3166-1 alpha-2. */
      country: string;
      /** @description ISO 4217. */
      currency: string;
      /** @description The shop's own name for how it is delivered, which rules can ask for. */
      delivery?: string;
      /**
       * Format: email
       * @description The shopper's; left out where there is none.
       */
      email?: string;
      /** @description A shopper group of the storefront. */
      group: string;
      /** @description BCP 47. */
      language: string;
      lines: {
        /** @description The shop's own name for what kind of goods it is, which rules can ask for. */
        kind?: string;
        /** @description As the shopper reads it. */
        name: string;
        /** @description With up to three decimals. */
        quantity: number;
        /**
         * @description unit × quantity, rounded to the minor unit. Decimal text with no more decimals than the currency has.
         * @example 12.30
         */
        total: string;
        /**
         * @description For one; negative for a discount. Decimal text with no more decimals than the currency has.
         * @example 12.30
         */
        unit: string;
      }[];
      /**
       * @description What of the total is to be paid by this checkout, such as a deposit or the rest; left out: all that is left. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      payNow?: string;
      /** @description The shop's own order number. */
      reference: string;
      /**
       * Format: uri
       * @description Where the shopper comes back to: a web page, or an app that the storefront lists.
       */
      returnAddress: string;
      /** @description Whether the shopper has ordered before. */
      returning?: boolean;
      /**
       * @description Zero if none. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      shipping: string;
      shipTo?: components["schemas"]["Place"];
      /** @description Who the shopper is, in the shop's own words, where the shop has signed them in: what they keep for the next time is theirs. */
      shopper?: string;
      /**
       * @description The tax in the order. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      tax: string;
      /**
       * @description Whether lines and shipping hold the tax already.
       * @default true
       */
      taxIncluded: boolean;
      /**
       * @description What the shopper pays. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      total: string;
      /** @description Grams, which rules can ask for. */
      weight?: number;
    };
    OrderStanding: {
      /**
       * Format: date-time
       * @description When it last changed, RFC 3339.
       */
      at: string;
      /** @description ISO 4217. */
      currency: string;
      /**
       * @description What the order is to be paid with. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      due: string;
      /**
       * @description Promised and not captured yet. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      held: string;
      /**
       * @description What is neither paid nor promised yet; of an order that is paid in parts, the parts to come. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      left: string;
      mode: components["schemas"]["Mode"];
      /** @description The shop's order number. */
      order: string;
      /**
       * @description Captured, less what was lost in a dispute. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      paid: string;
      /** @description The payment that pays it; of several parts the one that came last. */
      payment: string | null;
      /**
       * @description Refunded. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      refunded: string;
      /** @description The order stage that follows; null where none is chosen, or it is no longer declared. */
      stage: string | null;
      state: components["schemas"]["OrderState"];
      /** @description Grows with every change of the order: of two pieces of news the higher one is the truth. */
      version: number;
    };
    /** @enum {unknown} */
    OrderState: "open" | "paid" | "cancelled";
    OrderWithPayments: {
      /**
       * Format: date-time
       * @description When it last changed, RFC 3339.
       */
      at: string;
      /** @description ISO 4217. */
      currency: string;
      /**
       * @description What the order is to be paid with. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      due: string;
      /**
       * @description Promised and not captured yet. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      held: string;
      /**
       * @description What is neither paid nor promised yet; of an order that is paid in parts, the parts to come. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      left: string;
      mode: components["schemas"]["Mode"];
      /** @description The shop's order number. */
      order: string;
      /**
       * @description Captured, less what was lost in a dispute. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      paid: string;
      /** @description The payment that pays it; of several parts the one that came last. */
      payment: string | null;
      payments: components["schemas"]["Payment"][];
      /**
       * @description Refunded. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      refunded: string;
      /** @description The order stage that follows; null where none is chosen, or it is no longer declared. */
      stage: string | null;
      state: components["schemas"]["OrderState"];
      /** @description Grows with every change of the order: of two pieces of news the higher one is the truth. */
      version: number;
    };
    Payment: {
      /**
       * @description Asked for. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      amount: string;
      /**
       * Format: date-time
       * @description When it last changed, RFC 3339.
       */
      at: string;
      /**
       * @description Authorised. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      authorised: string;
      /**
       * @description Captured. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      captured: string;
      /** @description Its checkout. */
      checkout: string;
      /** @description What of the amount is for choosing this way of paying, and not for the order, as decimal text; with a minus it was taken off. */
      choiceFee: string;
      /** @description ISO 4217. */
      currency: string;
      /**
       * @description Why it was declined, if it was.
       * @enum {unknown}
       */
      declineReason:
        | "insufficient-funds"
        | "expired-card"
        | "wrong-code"
        | "suspected-fraud"
        | "do-not-honour"
        | "authentication-failed"
        | "unspecified"
        | null;
      /**
       * @description A dispute about it, if there is or was one.
       * @enum {unknown}
       */
      dispute: "open" | "answered" | "lost" | "won" | null;
      /** @description What the provider told that it kept; decimal text. */
      fee: string | null;
      /** @description What a person should look at, by its code, such as `surplus` or `held-ends`. */
      findings: string[];
      /**
       * @description Authorised, and neither captured nor released. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      held: string;
      /**
       * Format: date-time
       * @description When what is held ends, RFC 3339, where the provider says so.
       */
      heldUntil: string | null;
      /** @description What was paid with, as the shopper knows it. */
      instrument: string | null;
      mode: components["schemas"]["Mode"];
      /** @description The shop's order number. */
      order: string;
      /** @description Its id. */
      payment: string;
      /** @description The provider's own number of it. */
      providerReference: string | null;
      /** @description Our reference at the provider. */
      reference: string;
      /**
       * @description Refunded. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      refunded: string;
      /**
       * @description On its way back to the shopper; it can still fail. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      refunding: string;
      /**
       * @description Let go of what was authorised. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      released: string;
      /**
       * @description The provider's check for fraud.
       * @enum {unknown}
       */
      review: "open" | "passed" | "refused" | null;
      /** @enum {unknown} */
      state:
        | "created"
        | "pending"
        | "authorised"
        | "captured"
        | "partly-captured"
        | "voided"
        | "declined"
        | "failed"
        | "expired"
        | "cancelled"
        | "refunded"
        | "partly-refunded"
        | "disputed";
    };
    /** @description Where something goes, or from where it is paid; zones in rules are looked up by country, region and postcode. The rest is for providers, and told to one only where its offer says so. */
    Place: {
      /** @description The town. */
      city?: string;
      /** @description ISO 3166-1 alpha-2. */
      country: string;
      lines?: string[];
      /** @description Whose it is. */
      name?: string;
      /** @description As the country writes it. */
      postcode?: string;
      /** @description ISO 3166-2, such as DE-SH. */
      region?: string;
    };
    Plans: {
      /** @description What shoppers can subscribe to, in the order of the offers; empty where nothing repeats. */
      plans: {
        every: components["schemas"]["Rhythm"];
        names: {
          [key: string]: string;
        };
        /** @description The shop's own name for it. */
        plan: string;
        prices: {
          /**
           * @description For one piece and period, with tax. Decimal text with no more decimals than the currency has.
           * @example 12.30
           */
          amount: string;
          /** @description ISO 4217. */
          currency: string;
          /**
           * @description Charged once, at the beginning. Decimal text with no more decimals than the currency has.
           * @example 12.30
           */
          setUp: string;
          /** @description What the trial costs; null where there is none. Decimal text. */
          trial: string | null;
        }[];
        /** @description How many periods are charged; null: until it ends. */
        times: number | null;
        /** @description How long the trial is; null: there is none. */
        trialDays: number | null;
      }[];
    };
    Problem: {
      /** @description What is wrong here. */
      detail: string;
      errors?: {
        /** @description What is wrong. */
        code: string;
        /** @description In words. */
        detail: string;
        /** @description JSON Pointer of the field. */
        pointer: string;
      }[];
      status: number;
      /** @description In short. */
      title: string;
      /** @description Which problem. */
      type: string;
    };
    Purchase: {
      /** @description Where it goes; null while nothing is chosen. */
      address: components["schemas"]["PurchaseAddress"] | null;
      /** @description The shop's own name of what is bought. */
      basket: string;
      /**
       * @description Why nothing came of it.
       * @enum {unknown}
       */
      because:
        | "left"
        | "too-late"
        | "not-as-told"
        | "not-offered"
        | "elsewhere"
        | "not-served"
        | "sold-out"
        | "changed"
        | null;
      /** @description What choosing it costs; negative where it saves. Decimal text. */
      charge: string;
      /** @description Whom the wallet names; null while nothing is agreed to. */
      contact: components["schemas"]["PurchaseContact"] | null;
      /** @description ISO 4217. */
      currency: string;
      /** @description The delivery that was chosen. */
      delivery: {
        /** @description The shop's own. */
        id: string;
        /** @description As it was told. */
        name: string;
        /**
         * @description Its price. Decimal text with no more decimals than the currency has.
         * @example 12.30
         */
        price: string;
      } | null;
      /**
       * Format: uri
       * @description Where the shopper goes on.
       */
      goTo: string;
      /** @description The offer whose button was pressed. */
      offer: string;
      /** @description The shop's order number, once it is ordered. */
      order: string | null;
      /** @description Its id. */
      purchase: string;
      /** @enum {unknown} */
      state: "open" | "agreed" | "ordering" | "ordered" | "over";
      /**
       * @description What the shopper agreed to, without what choosing this way of paying costs or saves. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      total: string;
    };
    PurchaseAddress: {
      /** @description The town. */
      city?: string;
      /** @description ISO 3166-1 alpha-2. */
      country: string;
      lines?: string[];
      /** @description As it is written there. */
      postcode?: string;
      /** @description ISO 3166-2. */
      region?: string;
    };
    PurchaseContact: {
      /** @description The e-mail address. */
      email?: string;
      /** @description The name. */
      name?: string;
      /** @description The number. */
      phone?: string;
    };
    Rhythm: {
      count: number;
      /**
       * @description Months are those of the calendar.
       * @enum {unknown}
       */
      unit: "day" | "week" | "month";
    };
    ShopperPage: {
      /**
       * Format: uri
       * @description Send the shopper there.
       */
      address: string;
      /**
       * Format: date-time
       * @description RFC 3339.
       */
      expiresAt: string;
    };
    Storefront: {
      currencies: string[];
      groups: string[];
      languages: string[];
      mode: components["schemas"]["Mode"];
      /** @description Its name. */
      name: string;
      stages: string[];
      /** @description Its id. */
      storefront: string;
    };
    Subscription: {
      /**
       * @description What every period comes to. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      amount: string;
      /**
       * Format: date-time
       * @description When it last changed, RFC 3339.
       */
      at: string;
      /** @description ISO 4217. */
      currency: string;
      /**
       * @description Why it is over.
       * @enum {unknown}
       */
      ending: "cancelled" | "complete" | "unpaid" | "never-begun" | null;
      /** @description Whether it ends when the next period would begin. */
      ends: boolean;
      mode: components["schemas"]["Mode"];
      /**
       * Format: date-time
       * @description When the next period is charged, RFC 3339.
       */
      nextAt: string | null;
      /** @description Its plan. */
      plan: string;
      quantity: number;
      /** @description The shop's own number of it. */
      reference: string;
      /** @description Whose it is; empty once they were erased. */
      shopper: string;
      /** @enum {unknown} */
      state: "waiting" | "running" | "behind" | "paused" | "ended";
      /** @description Its id. */
      subscription: string;
      /** @description Grows with every change: the highest one is the truth. */
      version: number;
    };
    SubscriptionChange: {
      /** @description Another plan, from the next period on. */
      plan?: string;
      quantity?: number;
    };
    SubscriptionWithPeriods: {
      /**
       * @description What every period comes to. Decimal text with no more decimals than the currency has.
       * @example 12.30
       */
      amount: string;
      /**
       * Format: date-time
       * @description When it last changed, RFC 3339.
       */
      at: string;
      /** @description ISO 4217. */
      currency: string;
      /**
       * @description Why it is over.
       * @enum {unknown}
       */
      ending: "cancelled" | "complete" | "unpaid" | "never-begun" | null;
      /** @description Whether it ends when the next period would begin. */
      ends: boolean;
      mode: components["schemas"]["Mode"];
      /**
       * Format: date-time
       * @description When the next period is charged, RFC 3339.
       */
      nextAt: string | null;
      periods: {
        /**
         * @description What it comes to. Decimal text with no more decimals than the currency has.
         * @example 12.30
         */
        amount: string;
        /** @description Its first day, ISO 8601. */
        first: string;
        /** @description 0 is the one that it began with. */
        number: number;
        /** @description Its order number; null where it was left out. */
        order: string | null;
        /** @enum {unknown} */
        state: "open" | "paid" | "skipped" | "unpaid";
        /** @description How often it was charged without the shopper. */
        tries: number;
        /** @description The first day of the next. */
        until: string;
      }[];
      /** @description Its plan. */
      plan: string;
      quantity: number;
      /** @description The shop's own number of it. */
      reference: string;
      /** @description Whose it is; empty once they were erased. */
      shopper: string;
      /** @enum {unknown} */
      state: "waiting" | "running" | "behind" | "paused" | "ended";
      /** @description Its id. */
      subscription: string;
      /** @description Grows with every change: the highest one is the truth. */
      version: number;
    };
  };
  responses: never;
  parameters: never;
  requestBodies: never;
  headers: never;
  pathItems: never;
}
export type $defs = Record<string, never>;
export type operations = Record<string, never>;

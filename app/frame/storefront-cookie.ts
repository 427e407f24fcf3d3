/** Keeps which storefront was looked at last. */
export const STOREFRONT_COOKIE = "zahlung_storefront";

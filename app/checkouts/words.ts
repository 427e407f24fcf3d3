import type en from "../words/checkout/en.json";

/** The hosted checkout's words in one language: the page brings along those of its shopper alone. */
export type CheckoutWords = typeof en;

import type { Express } from "express";
import type { Manner } from "./dashboard";
import type { House } from "./house";
import type { Post } from "./notes";

/** One simulated provider, ready to be put under an application. */
export interface Provider {
  house: House;
  manner: Manner;
  post?: Post;
  mount(app: Express): void;
}

/** A request that is answered with a fault, in the provider's own codes. */
export class Fault extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    text: string,
  ) {
    super(text);
  }
}

export const text = (value: unknown, most = 200): value is string =>
  typeof value === "string" && value.length > 0 && value.length <= most;

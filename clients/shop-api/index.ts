import createClient, { type Client } from "openapi-fetch";
import type { components, paths } from "./schema";

export type ShopApi = Client<paths>;
type Schemas = components["schemas"];
export type Order = Schemas["OrderStanding"];
export type Payment = Schemas["Payment"];
export type Problem = Schemas["Problem"];

/** The shop API for one key, which speaks for one storefront in one mode. `address` ends in /api/v1. */
export const shopApi = (address: string, key: string, options: { timeout?: number } = {}): ShopApi =>
  createClient<paths>({
    baseUrl: address,
    headers: { authorization: `Bearer ${key}` },
    fetch: (request: Request) =>
      fetch(new Request(request, { signal: AbortSignal.timeout(options.timeout ?? 60_000) })),
  });

/** What to say of an answer that was a refusal. */
export const refusalOf = (problem: Problem | undefined): string =>
  problem ? `${problem.status}: ${problem.detail}` : "no reason was given";

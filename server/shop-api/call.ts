import type { Request } from "express";
import * as yup from "yup";
import { fieldProblems } from "#core/orders/order";
import { validated } from "#core/validated";
import type { Storefront } from "../database/rows";
import type { StorefrontNow } from "../storefronts/now";
import type { ShopCaller } from "../storefronts/storefronts";
import type { Answer } from "./once";
import { fieldsRefused, problem, ProblemError } from "./problem";

/** Who calls, and the storefront as it stands. */
export interface Call {
  caller: ShopCaller;
  now: StorefrontNow;
  storefront: Storefront;
}

export type Handler = (request: Request, call: Call) => Promise<Answer>;

export const notFound = (what: string) =>
  new ProblemError(problem(404, "not-found", "Not found", `There is no such ${what}.`));

/** Reads a body by its shape. Throws the problem that names each field. */
export function read<T>(schema: yup.Schema<T>, body: unknown): T {
  try {
    return validated(schema, body ?? {});
  } catch (error) {
    if (error instanceof yup.ValidationError) throw fieldsRefused(fieldProblems(error));
    throw error;
  }
}

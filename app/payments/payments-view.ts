import type { Route } from "./+types/payments";

/** The list of payments as its page has it. */
export type PaymentsView = Route.ComponentProps["loaderData"];

import { orderStates } from "#core/orders/paid";

/** What an order can be narrowed to by where it stands. */
export const stateChoices = [...orderStates, "refunded"] as const;

import type { Order } from "./order";

/** What a checkout of an order asks for, minor units. */
export const askedOf = ({ payNow, total }: Pick<Order, "payNow" | "total">): number => payNow ?? total;

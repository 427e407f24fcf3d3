import { deviceSaid } from "#core/orders/device";

/** What a shopper sits at, as their request says. */
export const deviceOf = ({ headers }: Request): "phone" | "computer" =>
  deviceSaid((name) => headers.get(name));

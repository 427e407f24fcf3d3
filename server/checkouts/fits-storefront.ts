import type { FieldProblem, Order } from "#core/orders/order";
import { appSchemeOf } from "#core/storefronts/app-address";
import type { Storefront } from "../database/rows";

/** What of a shop's order its storefront does not have: a currency, a shopper group, an app to come back to. */
export function misfitsOf(order: Order, storefront: Storefront): FieldProblem[] {
  const problems: FieldProblem[] = [];
  if (!storefront.currencies.includes(order.currency)) {
    const detail = `${storefront.name} sells in ${storefront.currencies.join(", ")}`;
    problems.push({ pointer: "/currency", code: "currency-not-sold-in", detail });
  }
  if (!storefront.groups.some((group) => group.id === order.group)) {
    const detail = `the shopper groups are ${storefront.groups.map((group) => group.id).join(", ")}`;
    problems.push({ pointer: "/group", code: "unknown-group", detail });
  }
  const app = appSchemeOf(order.returnAddress);
  if (app !== null && !storefront.apps.includes(app)) {
    const detail = `${app} is no app of ${storefront.name}; its settings list them`;
    problems.push({ pointer: "/returnAddress", code: "unknown-app", detail });
  }
  return problems;
}

import { parseTyped } from "#core/money/money";
import { modeShown } from "#server/connections/connections";
import type { Storefront } from "#server/database/rows";
import type { OrderFilter } from "#server/orders/list";
import type { Runtime } from "#server/runtime";
import { localeOf } from "../frame/storefront-context";
import { dayIn, zoneOf } from "../parts/zone";
import { stateChoices } from "./state-choices";

/** The filter that an address asks for: an amount is read as the storefront writes them, a day in the viewer's zone. */
export async function orderFilter(
  rt: Runtime,
  storefront: Storefront,
  request: Request,
): Promise<OrderFilter> {
  const search = new URL(request.url).searchParams;
  const text = (name: string) => (search.get(name) ?? "").trim().slice(0, 80);
  const typed = parseTyped(text("amount"), storefront.currencies[0] ?? "EUR", localeOf(storefront));
  const zone = zoneOf(request) ?? "UTC";
  return {
    mode: await modeShown(rt, storefront.id, search.get("mode")),
    state: stateChoices.find((one) => one === search.get("state")) ?? null,
    query: text("q"),
    connection: text("connection") || null,
    offer: text("offer") || null,
    amount: typed.ok ? typed.money.amount : null,
    from: dayIn(text("from"), zone)?.from ?? null,
    to: dayIn(text("to"), zone)?.to ?? null,
    after: search.get("after"),
  };
}

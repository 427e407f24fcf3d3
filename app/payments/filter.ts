import { parseTyped } from "#core/money/money";
import { modeShown } from "#server/connections/connections";
import { filterFrom, type PaymentFilter } from "#server/payments/list";
import type { Runtime } from "#server/runtime";
import type { StorefrontNow } from "#server/storefronts/now";
import { localeOf } from "../frame/storefront-context";

/** The filter that an address asks for, in words of the storefront; an amount is read as it writes them. */
export async function paymentFilter(
  rt: Runtime,
  { storefront }: StorefrontNow,
  search: URLSearchParams,
): Promise<PaymentFilter> {
  const wanted = search.get("mode");
  const both = wanted === "both" && (search.get("q") ?? "").trim() !== "";
  const mode = both ? "both" : await modeShown(rt, storefront.id, wanted);
  const typed = parseTyped(
    search.get("amount") ?? "",
    storefront.currencies[0] ?? "EUR",
    localeOf(storefront),
  );
  return filterFrom(search, mode, typed.ok ? typed.money.amount : null);
}

import { parseTyped } from "#core/money/money";
import { modeShown } from "#server/connections/connections";
import { filterFrom, type PaymentFilter } from "#server/payments/list";
import type { Runtime } from "#server/runtime";
import type { StorefrontNow } from "#server/storefronts/now";
import { localeOf } from "../frame/storefront-context";
import { dayIn, zoneOf } from "../parts/zone";

/** The filter that an address asks for: an amount is read as the storefront writes them, a day in the viewer's zone. */
export async function paymentFilter(
  rt: Runtime,
  { storefront }: StorefrontNow,
  request: Request,
): Promise<PaymentFilter> {
  const search = new URL(request.url).searchParams;
  const wanted = search.get("mode");
  const both = wanted === "both" && (search.get("q") ?? "").trim() !== "";
  const mode = both ? "both" : await modeShown(rt, storefront.id, wanted);
  const typed = parseTyped(
    search.get("amount") ?? "",
    storefront.currencies[0] ?? "EUR",
    localeOf(storefront),
  );
  const zone = zoneOf(request) ?? "UTC";
  const day = (name: string) => dayIn(search.get(name) ?? "", zone);
  return filterFrom(search, mode, {
    amount: typed.ok ? typed.money.amount : null,
    from: day("from")?.from ?? null,
    to: day("to")?.to ?? null,
  });
}

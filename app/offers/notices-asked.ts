import { data } from "react-router";
import { isCountry } from "#core/places/codes";
import { isCurrency } from "#core/money/currencies";
import { quotesFor } from "#server/offers/quotes";
import { offerIn } from "#server/storefronts/now";
import { runtimeContext } from "../context";
import { mustStandAt } from "../frame/storefront-context";
import type { Route } from "./+types/notices-asked";
import { t } from "../words/pages/offers-answers";

const PATIENCE = 3_000;
const MOST = 20;

/** The notices that a page of the shop would show in test, for the preview: of which offers, is decided there. */
export async function loader({ request, params, context }: Route.LoaderArgs) {
  const now = await mustStandAt(context, params.storefront);
  const rt = context.get(runtimeContext);
  const query = new URL(request.url).searchParams;
  const [amount, currency = "", country = "", language = ""] = [
    Number(query.get("amount")),
    ...["currency", "country", "language"].map((name) => query.get(name) ?? ""),
  ];
  const isAsked =
    Number.isSafeInteger(amount) &&
    amount > 0 &&
    isCurrency(currency) &&
    isCountry(country) &&
    /^[a-z]{2,3}(-[A-Za-z0-9]{2,8})*$/.test(language);
  if (!isAsked) throw data(t("what-is-asked-about-is"), { status: 400 });
  const labels = query.getAll("label");
  const about = { mode: "test", amount, currency, country, language } as const;
  const notices = await Promise.all(
    query
      .getAll("offer")
      .slice(0, MOST)
      .map(async (id, i) => {
        const offer = offerIn(now, id);
        if (!offer) return null;
        const quoted = await quotesFor(rt, about, offer, PATIENCE);
        const label = (labels[i] ?? "").slice(0, 60);
        return rt.writeNotice(
          { offer: id, label, quoted },
          { language, country, total: { amount, currency } },
        );
      }),
  );
  return { notices: notices.filter((one) => one !== null) };
}

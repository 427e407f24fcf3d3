import { methodOf } from "#core/profiles/profile";
import { plainButton } from "#core/buttons/button";
import { offerIn } from "#server/storefronts/now";
import { runtimeContext } from "../context";
import { mustStandAt } from "../frame/storefront-context";
import type { Route } from "./+types/buttons-asked";

const MOST = 20;

/** What providers allow of buttons, and what can stand on them in a shopper's language, for the preview. */
export async function loader({ request, params, context }: Route.LoaderArgs) {
  const now = await mustStandAt(context, params.storefront);
  const rt = context.get(runtimeContext);
  const query = new URL(request.url).searchParams;
  const language = (query.get("language") ?? "").slice(0, 12);
  const buttons = query
    .getAll("offer")
    .slice(0, MOST)
    .flatMap((id) => {
      const offer = offerIn(now, id);
      const method = offer && methodOf(offer.profile, offer.offer.methodId);
      const terms = method?.button;
      if (!terms) return [];
      const text = (label: "buy" | "pay" | "name") =>
        rt.writeButton(
          { offer: id, name: method.name, settings: { ...plainButton(terms), label }, terms },
          language,
        ).text;
      return [{ offer: id, terms, texts: { buy: text("buy"), pay: text("pay"), name: text("name") } }];
    });
  return { buttons };
}

import { data } from "react-router";
import { slipFile } from "#server/ways/offline/slips";
import { runtimeContext } from "../context";
import { mustFindStorefront } from "../frame/storefront-context";
import { paymentOf } from "#server/payments/record";
import type { Route } from "./+types/slip-file";
import { t } from "../words/pages/payments-answers";

/** What a shopper sent in, for signed-in people alone: shown in a frame of its own that can do nothing. */
export async function loader({ params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const storefront = await mustFindStorefront(context, params.storefront);
  const payment = await paymentOf(rt, params.payment);
  const file = payment?.storefrontId === storefront.id ? await slipFile(rt, payment.id, params.slip) : null;
  if (!file) throw data(t("there-is-no-such-file"), { status: 404 });
  return new Response(new Uint8Array(file.bytes), {
    headers: {
      "content-type": file.type,
      // A PDF is opened outside of the browser's own pages.
      "content-disposition": `${file.type === "application/pdf" ? "attachment" : "inline"}; filename="${file.name}"`,
      "content-security-policy": "default-src 'none'; sandbox",
      "cache-control": "private, no-store",
    },
  });
}

import { redirect } from "react-router";
import { checkoutByToken } from "#server/checkouts/checkouts";
import { comeBack } from "#server/checkouts/come-back";
import { runtimeContext } from "../context";
import type { Route } from "./+types/back";

/** Where a provider's page sends the shopper back to: what came of it is looked up, never taken from the address. */
export async function loader({ params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const checkout = await checkoutByToken(rt, params.token);
  // Where there is none, its page says so.
  if (checkout) await comeBack(rt, checkout);
  return redirect(`/pay/${params.token}`);
}

// Pays a checkout once, as a process that a test can kill while the provider works.
import { checkoutOf } from "#server/checkouts/checkouts";
import { pay } from "#server/checkouts/pay";
import { openRuntime } from "#server/runtime";
import { readSettings } from "#server/settings";
import { must } from "../../demo/play";

const rt = await openRuntime(readSettings(process.env, { production: true }), { root: process.cwd() });
const checkout = must(await checkoutOf(rt, process.env.CHECKOUT ?? ""), "checkout");
await pay(rt, checkout, process.env.OFFER ?? "", "play-approved", {
  beforeSending: async () => void process.send?.("sending"),
});

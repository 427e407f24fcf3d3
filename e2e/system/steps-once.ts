// Takes the steps of a payment once, as a process that a test can kill at any moment.
import { lookUp } from "#server/checkouts/look-up";
import { paymentOf } from "#server/payments/record";
import { takeSteps } from "#server/payments/steps";
import { openRuntime } from "#server/runtime";
import { readSettings } from "#server/settings";
import { must } from "../../demo/play";

const rt = await openRuntime(readSettings(process.env, { production: true }), { root: process.cwd() });
const payment = must(await paymentOf(rt, process.env.PAYMENT ?? ""), "payment");
await lookUp(rt, payment);
const go = new Promise<void>((resolve) => process.once("message", () => resolve()));
process.send?.("ready");
await go;
await takeSteps(rt, payment.id);
process.send?.("done");

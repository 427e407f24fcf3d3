import { type Curve, sensitivity } from "#core/costs/crossing";
import type { Priced } from "#core/costs/fees";
import type { Volume } from "#core/costs/volume";

/** Works the curves out beside the page, so that it stays quick however many orders there are. */
addEventListener("message", (event: MessageEvent<{ priced: Priced[]; volume: Volume }>) => {
  const { priced, volume } = event.data;
  const curves: Curve[] = sensitivity(priced, volume);
  postMessage(curves);
});

import { putLookLive, saveLook, setLogo } from "#server/looks/looks";
import type { Runtime } from "#server/runtime";
import { mustStand } from "#server/storefronts/now";
import { demoOwner } from "./scenario";

const person = demoOwner.email;

/** Luvwinkel's mark: a kite on its line. */
const logo = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 60 60" width="60" height="60">
  <path d="M30 3 50 25 30 49 10 25Z" fill="#f0602f"/><path d="M30 3v46M10 25h40" stroke="#20303c" stroke-width="2"/>
  <path d="M30 49c7 6 12-2 20 6" fill="none" stroke="#20303c" stroke-width="2"/>
</svg>`;

/** Gives a storefront the loft's look, its terms and receipts by e-mail, in test and in live. `shop`: the shop's address. */
export async function giveLook(rt: Runtime, storefrontId: string, shop: string): Promise<void> {
  const { storefront } = await mustStand(rt, storefrontId);
  const saved = await saveLook(rt, person, storefront, {
    ...{ accent: "#084c7a", ground: "#dff0f6", corner: "round", face: "plain", light: "device" },
    ...{ terms: "told", "terms-de": `${shop}/agb`, "terms-en": `${shop}/terms` },
    ...{ "privacy-de": `${shop}/datenschutz`, "privacy-en": `${shop}/privacy` },
    ...{ email: "werkstatt@luvwinkel.example", phone: "+49 4321 555012", page: "", receipts: "yes" },
  });
  if (!saved.ok) throw new Error(`no look: ${JSON.stringify(saved.problems)}`);
  const kept = await setLogo(rt, person, storefrontId, new File([logo], "luvwinkel.svg"));
  if (!kept.ok) throw new Error("no logo");
  await putLookLive(rt, person, storefrontId);
}

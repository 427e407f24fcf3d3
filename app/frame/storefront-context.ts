import { createContext, data } from "react-router";
import { type Standing, standingsOf } from "#server/cutover/standing";
import type { Storefront } from "#server/database/rows";
import { storefrontNow, type StorefrontNow } from "#server/storefronts/now";
import type { Runtime } from "#server/runtime";
import { standingVersionsOf } from "#server/storefronts/version";
import { type Context, runtimeContext } from "../context";
import { t } from "../words/pages/frame-answers";

/** How a storefront stands, as the loaders of one request share it. */
interface Stands {
  now: StorefrontNow;
  /** The version of all that its pages show, read just before. */
  all: number;
  /** Where its connections stand; read once, when first asked for. */
  standings(): Promise<Standing[]>;
}

/** What the loaders of a request have read already. Only where nothing is changed in between: not after an action. */
export const standsContext = createContext<Map<string, Promise<Stands | null>> | null>(null);

/** How the storefront of the address stands, or a 404. */
export async function standAt(context: Context, id: string): Promise<Stands> {
  const rt = context.get(runtimeContext);
  const kept = context.get(standsContext);
  const found = kept?.get(id) ?? readStands(rt, id);
  kept?.set(id, found);
  const stands = await found;
  if (!stands) throw data(t("there-is-no-such-storefront"), { status: 404 });
  return stands;
}

async function readStands(rt: Runtime, id: string): Promise<Stands | null> {
  const { version, all } = await standingVersionsOf(rt);
  const now = await storefrontNow(rt, id, version);
  if (!now) return null;
  let standings: Promise<Standing[]> | undefined;
  return { now, all, standings: () => (standings ??= standingsOf(rt, now, all)) };
}

export const mustStandAt = async (context: Context, id: string): Promise<StorefrontNow> =>
  (await standAt(context, id)).now;

/** The storefront of the address, or a 404. */
export const mustFindStorefront = async (context: Context, id: string): Promise<Storefront> =>
  (await standAt(context, id)).now.storefront;

export interface StorefrontView {
  id: string;
  name: string;
  /** How this storefront writes amounts. */
  locale: string;
}

export const localeOf = (storefront: Pick<Storefront, "languages" | "country">) =>
  `${storefront.languages[0]?.split("-")[0] ?? "en"}-${storefront.country}`;

import type { Station } from "#core/track";
import { t } from "../words/pages/frame";

export const stationNames: Record<Station, string> = {
  plan: t("plan"),
  connect: t("connect"),
  offer: t("offer"),
  rehearse: t("rehearse"),
  "cut-over": t("cut-over"),
  operate: t("operate"),
};

/** Letters that lead to the stations. */
export const stationKeys: Record<Station, string> = {
  plan: "p",
  connect: "c",
  offer: "o",
  rehearse: "r",
  "cut-over": "u",
  operate: "w",
};

/** A place on the line: a station, or the shop at its other end. */
export type Place = Station | "shop";

/** Pages whose station does not stand in their address. */
const elsewhere: Record<string, Place> = {
  exchanges: "operate",
  audit: "operate",
  jobs: "operate",
  profiles: "plan",
  storefronts: "shop",
};

/** The place on the line that a page belongs to; null for home and the pages about people. */
export function placeOf(pathname: string): Place | null {
  const [, first = "", , third = ""] = pathname.split("/");
  const name = first === "s" ? third : first;
  if (name in stationNames || name === "shop") return name as Place;
  return elsewhere[name] ?? null;
}

/** The same page of another storefront; of what is only on one storefront, its station. */
export function pathOn(storefrontId: string, pathname: string): string {
  const at = `/s/${storefrontId}`;
  const kept =
    /^\/s\/[^/]+(\/(?:plan(?:\/costs|\/list)?|offer\/stages|operate\/webhooks|operate\/findings|exchanges|shop(?:\/settings)?))\/?$/.exec(
      pathname,
    )?.[1];
  if (kept) return at + kept;
  const place = placeOf(pathname);
  return place ? `${at}/${place}` : at;
}

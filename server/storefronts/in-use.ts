import type { SettingsInUse } from "#core/storefronts/storefront";
import { nameOf } from "../offers/names";
import type { StorefrontNow } from "./now";

/** What uses a storefront's settings: its offers as they are edited and as live runs them, and files on its domain. */
export function settingsInUse({ offers, connections }: StorefrontNow): SettingsInUse {
  return {
    offers: offers.map((one) => {
      const documents = [one.working.document, ...(one.live ? [one.live.document] : [])];
      return {
        name: nameOf(one),
        live: one.live !== null,
        currencies: documents.flatMap((document) => document.currencies),
        groups: documents.flatMap((document) => document.groups),
      };
    }),
    filesOnDomain: connections
      .filter(({ files }) => files.test?.provider?.ok || files.live?.provider?.ok)
      .map(({ connection }) => connection.name),
    livePayments: offers.some((one) => one.live !== null && one.pair.live === "live"),
  };
}

import type { Station } from "#core/track";

/** The page where something about a connection is mended: its handshake sheet, its offer, or the station itself. */
export function stationLink(
  storefrontId: string,
  station: Station,
  { connectionId, offerId }: { connectionId: string; offerId: string | null },
): string {
  const at = `/s/${storefrontId}/${station}`;
  if (station === "connect") return `${at}/${connectionId}`;
  if (station === "offer" && offerId) return `${at}/${offerId}`;
  return at;
}

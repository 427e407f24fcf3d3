import type { Place } from "./stations";

/** The page where something about a connection is mended: its handshake sheet, its offer, or the station itself. */
export function stationLink(
  storefrontId: string,
  place: Place,
  { connectionId, offerId }: { connectionId: string; offerId: string | null },
): string {
  const at = `/s/${storefrontId}/${place}`;
  if (place === "connect") return `${at}/${connectionId}`;
  if (place === "offer") return offerId ? `${at}/${offerId}` : `${at}?add=1`;
  if (place === "cut-over") return `${at}?of=${connectionId}`;
  return at;
}

import type { Place } from "../offers/zones";

/** A place as letters and parcels are addressed: what rules do not ask about is only for providers that are told it. */
export interface Address extends Place {
  name?: string;
  /** Street, house, floor: as they are written, from the top. */
  lines?: string[];
  city?: string;
}

/** Where an address lies, without whose it is. */
export const placeOf = ({ country, region, postcode }: Address): Place => ({
  country,
  ...(region !== undefined && { region }),
  ...(postcode !== undefined && { postcode }),
});

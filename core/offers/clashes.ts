import { type Said, said, type Told } from "../said";
import type { MethodKind, Profile } from "../profiles/profile";

/** A method that is offered or about to be, on one storefront. */
export interface Chosen {
  /** Tells connections apart; two of one provider are two. */
  id: string;
  name: Told;
  profile: Pick<Profile, "id" | "name" | "sole" | "ridesOn">;
  kind: MethodKind;
  /** Ids of wallets of other providers that it takes too. */
  carries: readonly string[];
  /** Ids of device wallets that can ride on it. */
  takes: readonly string[];
  currencies: readonly string[];
}

export interface Clash {
  code: "both-serve" | "nothing-to-ride-on" | "two-roads";
  /** A warning can be lived with; a clash is refused. */
  blocking: boolean;
  /** Ids of the chosen that it is about. */
  about: string[];
  says: Said;
  wayOut: Said;
}

/** What cannot stand together on one storefront, and what had better not. */
export function clashesOf(chosen: readonly Chosen[]): Clash[] {
  const clashes: Clash[] = [];
  chosen.forEach((one, i) => {
    for (const other of chosen.slice(i + 1)) {
      if (one.id === other.id || one.kind !== other.kind) continue;
      if (!one.profile.sole.includes(one.kind) && !other.profile.sole.includes(one.kind)) continue;
      const both = one.currencies.filter((currency) => other.currencies.includes(currency));
      if (both.length === 0) continue;
      clashes.push({
        code: "both-serve",
        blocking: true,
        about: [one.id, other.id],
        says: said("clashes.both-serve", {
          name: one.name,
          other: other.name,
          kind: said(`clashes.kind.${one.kind}`),
          currencies: both,
        }),
        wayOut: said("clashes.keep-one", { currencies: both }),
      });
    }
  });
  for (const one of chosen) {
    const { ridesOn } = one.profile;
    const carried = (other: Chosen) =>
      other.id !== one.id && other.kind === ridesOn && other.takes.includes(one.profile.id);
    if (ridesOn && !chosen.some(carried))
      clashes.push({
        code: "nothing-to-ride-on",
        blocking: true,
        about: [one.id],
        says: said("clashes.nothing-to-ride-on", { name: one.name, kind: said(`clashes.kind.${ridesOn}`) }),
        wayOut: said("clashes.choose-carrier", {
          kind: said(`clashes.kind.${ridesOn}`),
          name: one.profile.name,
        }),
      });
    const road = chosen.find((other) => other.id !== one.id && other.carries.includes(one.profile.id));
    if (road)
      clashes.push({
        code: "two-roads",
        blocking: false,
        about: [one.id, road.id],
        says: said("clashes.two-roads", { name: one.profile.name, road: road.name }),
        wayOut: said("clashes.offer-one-two-roads"),
      });
  }
  return clashes;
}

import { type Said, said } from "../said";
/** A webhook registration as a provider lists it. */
export interface Registered {
  id: string;
  address: string;
  events?: string[];
}

/** What a provider's list of registrations holds, against what it should. */
export interface Registrations {
  at: number;
  /** Ids of registrations of our current address: one is right, more are doubled. */
  ours: string[];
  /** Registrations of addresses of ours that were given up. */
  left: Registered[];
  /** Registrations that lead elsewhere: not ours to touch. */
  elsewhere: string[];
  /** Events we need that our registration does not listen to. */
  missingEvents: string[];
}

/**
 * Holds a provider's list against our current address, the addresses we gave up, and the events we need. A list
 * that names no events says nothing about them.
 */
export function compareRegistrations(
  list: readonly Registered[],
  current: string,
  givenUp: ReadonlySet<string>,
  events: readonly string[],
  at: number,
): Registrations {
  const mine = list.filter((one) => one.address === current);
  const heard = mine[0]?.events;
  return {
    at,
    ours: mine.map((one) => one.id),
    left: list.filter((one) => givenUp.has(one.address)),
    elsewhere: list
      .filter((one) => one.address !== current && !givenUp.has(one.address))
      .map((one) => one.address),
    missingEvents: heard?.length ? events.filter((event) => !heard.includes(event)) : [],
  };
}

/** What is wrong with the registrations, in words; empty when nothing is. */
export function registrationFaults(
  { ours, left, missingEvents }: Registrations,
  wasRegistered: boolean,
): Said[] {
  return [
    ...(ours.length === 0 && wasRegistered ? [said("registrations.provider-no-longer-lists")] : []),
    ...(ours.length > 1 ? [said("registrations.doubled", { count: ours.length })] : []),
    ...(left.length > 0 ? [said("registrations.given-up", { count: left.length })] : []),
    ...(missingEvents.length > 0 ? [said("registrations.missing-events", { events: missingEvents })] : []),
  ];
}

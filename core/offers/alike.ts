import type { OfferDocument } from "./offer";

/** What of one offer can be set the same for others in one act: the fields of its document that hang together. */
export const alikeParts = {
  countries: ["countries"],
  currencies: ["currencies"],
  groups: ["groups"],
  limits: ["limits", "limitsOf"],
  rules: ["rules"],
  charge: ["charge"],
  capture: ["capture", "captureAfterDays"],
  "hold-back": ["holdBack"],
  authentication: ["authentication", "exemptUpTo"],
  trouble: ["withheldInTrouble"],
  telling: ["telling"],
  statement: ["statement"],
  "order-number": ["orderNumber"],
  stages: ["stages"],
  afterwards: ["afterwards"],
  account: [],
  due: [],
} as const satisfies Record<string, readonly (keyof OfferDocument)[]>;

export type AlikePart = keyof typeof alikeParts;
export const isAlikePart = (name: string): name is AlikePart => Object.hasOwn(alikeParts, name);

/** Parts that only an offer through a provider has, and those that only one without has. */
const THROUGH: readonly AlikePart[] = [
  "capture",
  "hold-back",
  "authentication",
  "trouble",
  "telling",
  "statement",
  "order-number",
];
const WITHOUT: readonly AlikePart[] = ["account", "due"];

/** The parts that two offers both have. */
export const partsOfBoth = (one: OfferDocument, other: OfferDocument): AlikePart[] =>
  (Object.keys(alikeParts) as AlikePart[]).filter((part) => {
    if (THROUGH.includes(part)) return !one.offline && !other.offline;
    return !WITHOUT.includes(part) || (one.offline !== undefined && other.offline !== undefined);
  });

/** `target` with parts as `source` says them; what it cannot have of them stays as it is. */
export function setAlike(
  source: OfferDocument,
  target: OfferDocument,
  parts: readonly AlikePart[],
): OfferDocument {
  const taken = partsOfBoth(source, target).filter((part) => parts.includes(part));
  const fields = taken.flatMap((part): readonly (keyof OfferDocument)[] => alikeParts[part]);
  const kept = Object.entries(target).filter(([name]) => !fields.some((one) => one === name));
  const own = fields.filter((name) => source[name] !== undefined).map((name) => [name, source[name]]);
  const made = Object.fromEntries([...kept, ...own]) as OfferDocument;
  if (!source.offline || !made.offline) return made;
  const { account, reference, dueDays, reminders, remindDays, expireDays } = source.offline;
  const { reminders: _, remindDays: __, ...offline } = made.offline;
  const due = {
    ...{ dueDays, expireDays },
    ...(reminders !== undefined && { reminders }),
    ...(remindDays !== undefined && { remindDays }),
  };
  return {
    ...made,
    offline: {
      ...(taken.includes("due") ? { ...offline, ...due } : made.offline),
      ...(taken.includes("account") && { account, reference }),
    },
  };
}

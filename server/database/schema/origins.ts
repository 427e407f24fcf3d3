export const origins = ["shop", "walk", "rehearsal"] as const;
/** Who had a checkout opened: the shop, a person walking through it, or a rehearsal. */
export type Origin = (typeof origins)[number];

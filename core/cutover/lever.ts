/** Where the lever of a connection on a storefront stands. */
export const leverStates = ["never", "live", "fallen-back"] as const;
export type LeverState = (typeof leverStates)[number];

/**
 * How a lever was moved: `cut-over` to live; `fall-back` stops new live payments; `step-back` takes live to what it ran
 * before the last cutover; `restore` puts an older snapshot back at once; `replaced` by another connection's cutover.
 */
export const movements = ["cut-over", "fall-back", "step-back", "restore", "replaced"] as const;
export type Movement = (typeof movements)[number];

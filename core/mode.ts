/** Test talks to the provider's sandbox; live moves money. */
export const modes = ["test", "live"] as const;
export type Mode = (typeof modes)[number];

export const isMode = (value: unknown): value is Mode => value === "test" || value === "live";

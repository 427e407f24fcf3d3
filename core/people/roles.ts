/** Owners may do everything, operators all but people, viewers look. */
export const roles = ["owner", "operator", "viewer"] as const;
export type Role = (typeof roles)[number];
export const isRole = (value: unknown): value is Role => roles.some((role) => role === value);

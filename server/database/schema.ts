// Every table, one file for each subject.
export * from "./schema/writes";
export * from "./schema/people";
export * from "./schema/audit";
export * from "./schema/storefronts";
export * from "./schema/profiles";
export * from "./schema/connections";
export * from "./schema/offers";
export * from "./schema/origins";
export * from "./schema/orders";
export * from "./schema/payments";
export * from "./schema/operations";
export * from "./schema/findings";
export * from "./schema/traffic";
export * from "./schema/rehearsals";
export * from "./schema/cutovers";
export * from "./schema/plans";
export * from "./schema/jobs";

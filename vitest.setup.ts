import fc from "fast-check";

// The same drawings at every run; PROPERTY_SEED and PROPERTY_RUNS look elsewhere and longer.
fc.configureGlobal({
  seed: Number(process.env.PROPERTY_SEED ?? 20261125),
  numRuns: Number(process.env.PROPERTY_RUNS ?? 200),
});

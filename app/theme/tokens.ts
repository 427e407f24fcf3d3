/** Colours that each mean one thing; their values for light and dark stand in theme.css. */
export const color = {
  paper: "var(--paper)",
  sheet: "var(--sheet)",
  sunk: "var(--sunk)",
  ink: "var(--ink)",
  inkSoft: "var(--ink-soft)",
  rule: "var(--rule)",
  ruleStrong: "var(--rule-strong)",
  /** Links, focus, the selected thing. */
  petrol: "var(--petrol)",
  petrolSoft: "var(--petrol-soft)",
  /** Wrong, needs a person. */
  madder: "var(--madder)",
  madderSoft: "var(--madder-soft)",
  /** Waits, or is stale. */
  brass: "var(--brass)",
  brassSoft: "var(--brass-soft)",
  /** Proven. */
  moss: "var(--moss)",
  mossSoft: "var(--moss-soft)",
  onFill: "var(--on-fill)",
} as const;

/** Test is a dashed outline with a fine diagonal hatch; live is a solid fill. */
export const hatch = "repeating-linear-gradient(135deg, transparent 0 4px, var(--hatch) 4px 5px)";

export const mono = "var(--mono)";
export const tabular = 'font-variant-numeric: tabular-nums; font-feature-settings: "tnum" 1;';

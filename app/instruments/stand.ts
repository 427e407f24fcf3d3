import { type InstrumentState, isOver } from "#core/instruments";

/** How something kept stands at a time: it can be used, has ended by itself, or was forgotten. */
export const standOf = (
  { state, until }: { state: InstrumentState; until: number | null },
  now: number,
): "kept" | "over" | "forgotten" =>
  state === "forgotten" ? "forgotten" : isOver({ until }, now) ? "over" : "kept";

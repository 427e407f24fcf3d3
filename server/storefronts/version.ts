import type { Runtime } from "../runtime";

/**
 * The version of all that decides what storefronts offer: settings, offers, levers, keys with their checks, profiles. The
 * database counts it up by itself at every change, whichever process makes it; what is kept in memory is kept under it.
 */
export const standingVersionOf = async (rt: Pick<Runtime, "db" | "memory">): Promise<number> =>
  (await standingVersionsOf(rt)).version;

/** The same, and `all`, which counts what was proven as well: webhook addresses, test results, rehearsals. */
export async function standingVersionsOf(
  rt: Pick<Runtime, "db" | "memory">,
): Promise<{ version: number; all: number }> {
  // Written by hand: it is asked for with every request, and building it costs more than reading it.
  const { rows } = await rt.memory.together("standing version", () =>
    rt.db.client.execute("select version, proven from standing_version where id = 1"),
  );
  const [version, proven] = [Number(rows[0]?.version ?? 0), Number(rows[0]?.proven ?? 0)];
  // Both only ever grow, so that their sum changes whenever one of them does.
  return { version, all: version + proven };
}

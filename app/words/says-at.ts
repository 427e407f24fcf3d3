import type { SpokenProblem } from "./speak";

/** What is wrong at a path, or at one below it; undefined where nothing is. */
export const saysAt = (problems: readonly SpokenProblem[], path: string): string | undefined =>
  problems
    .filter((one) => one.path === path || one.path.startsWith(`${path}.`) || one.path.startsWith(`${path}[`))
    .map((one) => one.says)
    .join(" ") || undefined;

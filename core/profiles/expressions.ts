import { said, type Told, ToldError } from "../said";
import jsonata from "jsonata";

/** Thrown when a profile cannot do what is asked. */
export class ProfileError extends ToldError {
  constructor(
    readonly code: "operation-missing" | "field-missing" | "expression-failed" | "reading-malformed",
    says: Told,
  ) {
    super(says);
    this.name = "ProfileError";
  }
}

/**
 * An expression may be this long, take this many steps, nest this deep and gather this many values. Steps are counted and not
 * the time: a machine that is busy with something else makes no expression wrong. The time is for what no step counts.
 */
export const expressionLimits = {
  ...{ length: 4_000, steps: 300_000, milliseconds: 20_000, depth: 200, values: 10_000 },
};

/** Functions of JSONata that an expression may call: pure, and no slower than their input is long. */
const functions = new Set(
  (
    "string length substring substringBefore substringAfter uppercase lowercase trim contains split join " +
    "base64encode base64decode number abs floor ceil round power sum max min average boolean not exists count " +
    "append sort reverse distinct zip keys lookup merge type toMillis fromMillis replace formatNumber"
  ).split(" "),
);

/** Why an expression must not be in a profile, or undefined when it may. */
export function expressionRefused(source: string): Told | undefined {
  if (source.length > expressionLimits.length)
    return said("expressions.longer-than-letters", { most: expressionLimits.length });
  let tree: unknown;
  try {
    tree = jsonata(source).ast();
  } catch (error) {
    return said("expressions.not-jsonata", { message: (error as Error).message });
  }
  return forbidden(tree);
}

function forbidden(node: unknown, depth = 0): Told | undefined {
  if (depth > 100) return said("expressions.nested-too-deeply");
  if (Array.isArray(node)) {
    for (const one of node) {
      const found = forbidden(one, depth + 1);
      if (found) return found;
    }
    return undefined;
  }
  if (typeof node !== "object" || node === null) return undefined;
  const { type, value } = node as { type?: unknown; value?: unknown };
  if (type === "regex") return said("expressions.holds-regular-expression-can");
  if (type === "lambda" || type === "partial") return said("expressions.makes-function-own-can");
  if (type === "binary" && value === "..") return said("expressions.holds-range-can-grow");
  if (type === "transform") return said("expressions.changes-input");
  if (type === "descendant" || type === "parent") return said("expressions.searches-input-every-depth");
  if (type === "apply" || type === "bind") return said("expressions.chains-or-names-values");
  if (type === "variable" && value !== "" && value !== "$" && !functions.has(String(value)))
    return said("expressions.uses-not-taken", { name: String(value) });
  for (const [key, child] of Object.entries(node)) {
    if (key === "type" || key === "position") continue;
    const found = forbidden(child, depth + 1);
    if (found) return found;
  }
  return undefined;
}

/** JSONata calls what stands under this name before each step; `base` is one evaluation. */
const EACH_STEP = Symbol.for("jsonata.__evaluate_entry") as unknown as string;

function countStep(_: unknown, __: unknown, { base }: { base: { steps?: number } }): void {
  base.steps = (base.steps ?? 0) + 1;
  if (base.steps > expressionLimits.steps)
    throw new Error(`it takes more than ${expressionLimits.steps} steps`);
}

const compiled = new Map<string, jsonata.Expression>();
const MOST_COMPILED = 5_000;

function compile(source: string): jsonata.Expression {
  const known = compiled.get(source);
  if (known) return known;
  const refused = expressionRefused(source);
  if (refused) throw new ToldError(refused);
  const { milliseconds: timeout, depth: stack, values: sequence } = expressionLimits;
  const expression = jsonata(source, { timeout, stack, sequence } as jsonata.JsonataOptions);
  expression.assign(EACH_STEP, countStep);
  if (compiled.size >= MOST_COMPILED) compiled.clear();
  compiled.set(source, expression);
  return expression;
}

/**
 * Evaluates a JSONata expression (2.x) against `input` alone: compiled once, bounded in time, depth and size, and
 * without functions that reach outside or run without end. Throws `expression-failed`.
 */
export async function evaluate(source: string, input: unknown): Promise<unknown> {
  try {
    const result: unknown = await compile(source).evaluate(input);
    // JSONata marks its arrays; a copy through JSON leaves plain data.
    return result === undefined || typeof result === "string" ? result : JSON.parse(JSON.stringify(result));
  } catch (error) {
    throw new ProfileError("expression-failed", `${source}: ${(error as Error).message}`);
  }
}

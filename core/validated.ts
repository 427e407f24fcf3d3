import * as yup from "yup";

/** The first own name anywhere in `value` that every object inherits, such as `toString`; with its path. */
function inheritedName(value: unknown): string | null {
  const waiting: { at: string; one: unknown }[] = [{ at: "", one: value }];
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    const { at, one } = next;
    if (typeof one !== "object" || one === null) continue;
    for (const name of Object.keys(one)) {
      const path = Array.isArray(one) ? `${at}[${name}]` : at ? `${at}.${name}` : name;
      if (name in Object.prototype) return path;
      waiting.push({ at: path, one: (one as Record<string, unknown>)[name] });
    }
  }
  return null;
}

/**
 * Validates what came from outside by a Yup schema and returns it. Names that every object inherits make Yup stumble
 * over its own tables; nobody sends them in good faith, so they are refused first, at any depth. Throws a Yup
 * `ValidationError` with every complaint.
 */
export function validated<T>(
  schema: yup.Schema<T>,
  value: unknown,
  options: { strict?: boolean; stripUnknown?: boolean } = { strict: true },
): T {
  const odd = inheritedName(value);
  if (odd !== null) throw new yup.ValidationError(`${odd} is not a name that is taken here`, value, odd);
  return schema.validateSync(value, { abortEarly: false, ...options });
}

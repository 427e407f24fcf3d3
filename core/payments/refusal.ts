import type { Refusal } from "./facts";

/**
 * The one of two refusals that says more: a named reason outweighs none, and of two that say as much the order of their
 * words decides, so that it never matters which came first.
 */
export function stronger(one: Refusal | null, other: Refusal): Refusal {
  const { reason, code, text } = other;
  const found: Refusal = {
    ...(reason !== undefined && { reason }),
    ...(code !== undefined && { code }),
    ...(text !== undefined && { text }),
  };
  if (!one) return found;
  const difference = weight(one) - weight(found);
  if (difference !== 0) return difference > 0 ? one : found;
  return wordsOf(one) <= wordsOf(found) ? one : found;
}

const weight = ({ reason, code, text }: Refusal) =>
  (reason !== undefined && reason !== "unspecified" ? 8 : 0) +
  (reason !== undefined ? 4 : 0) +
  (code !== undefined ? 2 : 0) +
  (text !== undefined ? 1 : 0);

const wordsOf = ({ reason, code, text }: Refusal) => JSON.stringify([reason, code, text]);

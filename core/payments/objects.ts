import {
  attemptStates,
  disputeStates,
  movementStates,
  type Attempt,
  type Authorisation,
  type Dispute,
  type FraudReview,
  type Identified,
  type Movement,
} from "./facts";

const ranks: { [Kind in Identified["object"]]: (statement: never) => number } = {
  attempt: ({ state }: Attempt) => attemptStates.indexOf(state),
  authorisation: ({ state }: Authorisation) => (state === "ended" ? 1 : 0),
  capture: ({ state }: Movement) => movementStates.indexOf(state),
  release: ({ state }: Movement) => movementStates.indexOf(state),
  refund: ({ state }: Movement) => movementStates.indexOf(state),
  dispute: ({ stage, state }: Dispute) => stage * disputeStates.length + disputeStates.indexOf(state),
  review: ({ state }: FraudReview) => ["open", "passed", "refused"].indexOf(state),
  fee: () => 0,
  settlement: () => 0,
};

/**
 * Which of two statements about the same object holds: the later by the provider's sequence, else the one further on.
 * It is the greater in a total order, so the outcome does not depend on which came first or how often.
 */
export function prevailing<T extends Identified>(one: T, other: T): T {
  const sequence = (one.sequence ?? -1) - (other.sequence ?? -1);
  if (sequence !== 0) return sequence > 0 ? one : other;
  const rank = (ranks[one.object] as (statement: T) => number)(one) - ranks[other.object](other as never);
  if (rank !== 0) return rank > 0 ? one : other;
  const [a, b] = [amountOf(one), amountOf(other)];
  if (a !== b) return a > b ? one : other;
  return JSON.stringify(one) >= JSON.stringify(other) ? one : other;
}

const amountOf = (statement: Identified) => ("amount" in statement ? statement.amount : 0);

/** The newest statement about each object. */
export class Objects {
  readonly #known = new Map<string, Identified>();

  add(statement: Identified): void {
    const key = `${statement.object} ${statement.id ?? ""}`;
    const known = this.#known.get(key);
    this.#known.set(key, known ? prevailing(known, statement) : statement);
  }

  /** All objects of a kind, by their ids. */
  of<K extends Identified["object"]>(kind: K): Extract<Identified, { object: K }>[] {
    const found: Identified[] = [];
    for (const one of this.#known.values()) if (one.object === kind) found.push(one);
    return found.sort((a, b) => ((a.id ?? "") < (b.id ?? "") ? -1 : 1)) as never;
  }
}

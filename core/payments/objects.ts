import {
  attemptStates,
  disputeStates,
  movementStates,
  type Attempt,
  type Authentication,
  type Authorisation,
  type Dispute,
  type FraudReview,
  type Identified,
  type Movement,
  type Settlement,
} from "./facts";
import { authenticationResults } from "../profiles/profile-types";

/** How far on each state of a list is. */
const places = <State extends string>(states: readonly State[]) =>
  Object.fromEntries(states.map((state, i) => [state, i])) as Record<State, number>;
const [attempts, movements, disputes] = [
  places(attemptStates),
  places(movementStates),
  places(disputeStates),
];

const ranks: { [Kind in Identified["object"]]: (statement: never) => number } = {
  attempt: ({ state }: Attempt) => attempts[state],
  authorisation: ({ state }: Authorisation) => (state === "ended" ? 1 : 0),
  capture: ({ state }: Movement) => movements[state],
  release: ({ state }: Movement) => movements[state],
  refund: ({ state }: Movement) => movements[state],
  dispute: ({ stage, state }: Dispute) => stage * disputeStates.length + disputes[state],
  review: ({ state }: FraudReview) => ["open", "passed", "refused"].indexOf(state),
  authentication: ({ result }: Authentication) => authenticationResults.indexOf(result),
  expectation: () => 0,
  fee: () => 0,
  instalments: () => 0,
  settlement: ({ state }: Settlement) => (state === "failed" ? 1 : 0),
};

/**
 * Which of two statements about the same object holds: the later by the provider's sequence, else the one further on.
 * It is the greater in a total order, so the outcome does not depend on which came first or how often.
 */
export function prevailing<T extends Identified>(one: T, other: T): T {
  if (one === other) return one;
  const sequence = (one.sequence ?? -1) - (other.sequence ?? -1);
  if (sequence !== 0) return sequence > 0 ? one : other;
  const rank = (ranks[one.object] as (statement: T) => number)(one) - ranks[other.object](other as never);
  if (rank !== 0) return rank > 0 ? one : other;
  const [a, b] = [amountOf(one), amountOf(other)];
  if (a !== b) return a > b ? one : other;
  return JSON.stringify(one) >= JSON.stringify(other) ? one : other;
}

const amountOf = (statement: Identified) => ("amount" in statement ? statement.amount : 0);

/** The newest statement about each object, by kind. */
export class Objects {
  readonly #kinds = new Map<Identified["object"], Map<string, Identified>>();

  add(statement: Identified): void {
    let kind = this.#kinds.get(statement.object);
    if (!kind) this.#kinds.set(statement.object, (kind = new Map<string, Identified>()));
    const id = statement.id ?? "";
    const known = kind.get(id);
    kind.set(id, known ? prevailing(known, statement) : statement);
  }

  /** All objects of a kind, in no order that means anything. */
  of<K extends Identified["object"]>(kind: K): Extract<Identified, { object: K }>[] {
    const known = this.#kinds.get(kind);
    return (known ? [...known.values()] : []) as never;
  }
}

import type { Spoken } from "../app/words/speak";
import { say, spoken, tell } from "../app/words/spoken.server";

export { say, spoken, tell };

type Speaking<R> = R extends Promise<infer Value> ? Promise<Spoken<Value>> : Spoken<R>;

/** A function of core or server that answers as administrators read it: for tests of what people are told. */
export const speaking =
  <Args extends unknown[], R>(work: (...args: Args) => R): ((...args: Args) => Speaking<R>) =>
  (...args) => {
    const answer = work(...args);
    return (answer instanceof Promise ? answer.then(spoken) : spoken(answer)) as Speaking<R>;
  };

import { HttpClient, type HttpStream } from "@libsql/hrana-client";

// A libSQL server opens the database anew for every stream, and reads all its tables and indexes for that: with as many as there
// are here it takes ten times what most statements do. The client opens a stream for each of its calls; here it is given one
// that an earlier call is done with. Only a stream on which nothing failed is used again, by one call at a time.

/** A stream that nobody used for so long is closed; the server closes one by itself after ten seconds. Milliseconds. */
const KEPT_FOR = 3_000;
/** So many are kept while nobody uses them: each is a connection that others cannot have. */
const MOST_IDLE = 20;

interface Idle {
  stream: HttpStream;
  since: number;
}
const idleOf = new WeakMap<HttpClient, Idle[]>();
const open = HttpClient.prototype.openStream;
let isKept = false;

/** From now on clients of libSQL servers use their streams again. */
export function keepStreams(): void {
  if (isKept) return;
  isKept = true;
  HttpClient.prototype.openStream = function (this: HttpClient) {
    const idle = idleOf.get(this) ?? [];
    idleOf.set(this, idle);
    // The one that was used last: the others may grow old.
    for (let last = idle.pop(); last; last = idle.pop())
      if (!last.stream.closed && performance.now() - last.since < KEPT_FOR) return last.stream;
      else end(last.stream);
    return lent(open.call(this), idle);
  };
}

const close = Symbol("close");
type Lent = HttpStream & { [close]?: () => void };

function end(stream: Lent): void {
  if (!stream.closed) stream[close]?.();
}

/** A stream that goes back among the idle ones when whoever took it is done with it and everything is answered. */
function lent(stream: Lent, idle: Idle[]): HttpStream {
  let [waiting, isDone, isSound] = [0, false, true];
  const settle = () => {
    if (!isDone || waiting > 0) return;
    isDone = false;
    if (!isSound || stream.closed || idle.length >= MOST_IDLE) return end(stream);
    idle.push({ stream, since: performance.now() });
    setTimeout(() => trim(idle), KEPT_FOR).unref();
  };
  const watched =
    <A extends unknown[], R>(ask: (...args: A) => Promise<R>) =>
    (...args: A): Promise<R> => {
      waiting += 1;
      const answered = (isWhole: boolean) => {
        waiting -= 1;
        isSound &&= isWhole;
        settle();
      };
      const asked = ask(...args);
      asked.then(
        (result) => answered(!hasFailed(result)),
        () => {
          // The server may be another by now, which knows none of these.
          if (stream.closed) for (const { stream: other } of idle.splice(0)) end(other);
          answered(false);
        },
      );
      return asked;
    };
  stream[close] = stream.closeGracefully.bind(stream);
  stream.closeGracefully = () => {
    isDone = true;
    settle();
  };
  stream._execute = watched(stream._execute.bind(stream));
  stream._batch = watched(stream._batch.bind(stream));
  stream._sequence = watched(stream._sequence.bind(stream));
  // Texts that the server keeps for a stream would pile up on one that goes on.
  stream.storeSql = (text) => Object.assign(new String(text), { close: () => undefined }) as never;
  return stream;
}

/** Whether a step of a batch failed: its transaction is taken back then, but nobody relies on what is left. */
const hasFailed = (result: unknown): boolean =>
  typeof result === "object" &&
  result !== null &&
  "stepErrors" in result &&
  (result.stepErrors as ReadonlyMap<number, unknown>).size > 0;

function trim(idle: Idle[]): void {
  const old = performance.now() - KEPT_FOR;
  while (idle[0] && idle[0].since <= old) end((idle.shift() as Idle).stream);
}

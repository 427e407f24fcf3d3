import { type House, randomText, type SideName, sides } from "./house";
import { messageWeather } from "./weather";

const WAITS = [1, 2, 4, 8, 20, 60, 300, 1800].map((seconds) => seconds * 1000);

export interface Letter {
  headers: Record<string, string>;
  body: string;
}

/** Writes and signs one message the provider's own way; `spoilt` signs it with something else. */
export type Write = (
  side: SideName,
  note: {
    id: string;
    account: string;
    to: string;
    kind: string;
    content: Record<string, unknown>;
    spoilt: boolean;
  },
) => Letter | Promise<Letter>;

/** A provider's messages: queued, signed anew at each try, retried until taken. */
export class Post {
  readonly #busy = new Set<string>();
  /** How many of the first are done and need not be looked at again. */
  readonly #done: Record<SideName, number> = { sandbox: 0, live: 0 };

  constructor(
    readonly house: House,
    readonly write: Write,
    readonly idLetter: string,
  ) {}

  /** Queues a message to an address. */
  send(side: SideName, account: string, to: string, kind: string, content: Record<string, unknown>) {
    if (!to) return;
    const note = {
      id: `${this.idLetter}${randomText(18)}`,
      account,
      to,
      kind,
      content,
      tries: 0,
      nextAt: Date.now(),
      done: false,
      spoilt: false,
      log: [] as string[],
    };
    const weather = messageWeather(this.house.name, side);
    if (weather?.kind === "lose") {
      note.done = true;
      note.log.push("lost on the way");
    }
    if (weather?.kind === "late" || weather?.kind === "swap") note.nextAt += weather.ms ?? 1500;
    if (weather?.kind === "badly-signed") note.spoilt = true;
    const { notes } = this.house.books(side);
    if (weather?.kind === "double") notes.push({ ...note, log: [] });
    notes.push(note);
    this.house.changed();
    void this.deliver(side);
  }

  /** What is to be sent still. */
  #open(side: SideName) {
    const { notes } = this.house.books(side);
    while (notes[this.#done[side]]?.done) this.#done[side] += 1;
    return notes.slice(this.#done[side]).filter((one) => !one.done);
  }

  /** Sends what is due, in order for each address. */
  async deliver(side: SideName) {
    for (const to of new Set(this.#open(side).map((one) => one.to))) {
      const lane = `${side} ${to}`;
      if (this.#busy.has(lane)) continue;
      this.#busy.add(lane);
      try {
        for (;;) {
          const due = this.#open(side).find((one) => one.to === to && one.nextAt <= Date.now());
          if (!due) break;
          const letter = await this.write(side, due);
          due.tries++;
          try {
            const answer = await fetch(to, {
              method: "POST",
              headers: letter.headers,
              body: letter.body,
              signal: AbortSignal.timeout(10_000),
            });
            due.done = answer.ok;
            due.log.push(`answered ${answer.status}`);
          } catch (error) {
            due.log.push(`no answer: ${(error as Error).message}`);
          }
          if (!due.done) {
            const wait = WAITS[due.tries - 1];
            if (wait === undefined) due.done = true;
            else due.nextAt = Date.now() + wait;
          }
          this.house.changed();
        }
      } finally {
        this.#busy.delete(lane);
      }
    }
  }

  deliverAll() {
    for (const side of sides) void this.deliver(side);
  }
}

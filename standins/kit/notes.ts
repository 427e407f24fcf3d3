import { type House, type Note, randomText, type SideName, sides } from "./house";
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
  /** What is to be sent still, in its order: however many were sent before, they are not walked over. */
  readonly #waiting: Partial<Record<SideName, Set<Note>>> = {};

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
    if (weather?.kind === "double") this.#queue(side, { ...note, log: [] });
    this.#queue(side, note);
    this.house.changed();
    void this.deliver(side);
  }

  #queue(side: SideName, note: Note) {
    const waiting = this.#open(side);
    this.house.books(side).notes.push(note);
    if (!note.done) waiting.add(note);
  }

  #open(side: SideName): Set<Note> {
    return (this.#waiting[side] ??= new Set(this.house.books(side).notes.filter(({ done }) => !done)));
  }

  /** Sends what is due, in order for each address. */
  async deliver(side: SideName) {
    const waiting = this.#open(side);
    for (const to of new Set([...waiting].map((one) => one.to))) {
      const lane = `${side} ${to}`;
      if (this.#busy.has(lane)) continue;
      this.#busy.add(lane);
      try {
        for (;;) {
          const due = [...waiting].find((one) => one.to === to && one.nextAt <= Date.now());
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
          if (due.done) waiting.delete(due);
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

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
  /** What is to be sent still, by its address and in its order: however many wait or were sent, they are not walked over. */
  readonly #waiting: Partial<Record<SideName, Map<string, Set<Note>>>> = {};

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
    void this.#deliverTo(side, to);
  }

  #queue(side: SideName, note: Note) {
    const lane = this.#laneOf(side, note.to);
    this.house.books(side).notes.push(note);
    if (!note.done) lane.add(note);
  }

  /** What waits for each address of a side. Read from the books the first time: what was left by an earlier run is sent. */
  #lanesOf(side: SideName): Map<string, Set<Note>> {
    const known = this.#waiting[side];
    if (known) return known;
    this.#waiting[side] = new Map();
    for (const note of this.house.books(side).notes) if (!note.done) this.#laneOf(side, note.to).add(note);
    return this.#waiting[side];
  }

  #laneOf(side: SideName, to: string): Set<Note> {
    const lanes = this.#lanesOf(side);
    const lane = lanes.get(to) ?? new Set();
    lanes.set(to, lane);
    return lane;
  }

  /** Sends an address what is due, in order. */
  async #deliverTo(side: SideName, to: string) {
    const busy = `${side} ${to}`;
    if (this.#busy.has(busy)) return;
    this.#busy.add(busy);
    try {
      const lane = this.#laneOf(side, to);
      for (let due = firstDue(lane); due; due = firstDue(lane)) {
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
        if (due.done) lane.delete(due);
        this.house.changed();
      }
    } finally {
      this.#busy.delete(busy);
    }
  }

  deliverAll() {
    for (const side of sides) for (const to of this.#lanesOf(side).keys()) void this.#deliverTo(side, to);
  }
}

function firstDue(lane: ReadonlySet<Note>): Note | undefined {
  const now = Date.now();
  for (const note of lane) if (note.nextAt <= now) return note;
  return undefined;
}

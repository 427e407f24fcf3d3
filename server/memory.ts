/** A place for one kind of thing that a process remembers. */
export interface Shelf<T> {
  readonly name: string;
  readonly holds?: T;
}

interface Kept {
  version: number;
  value: Promise<unknown>;
}

const MOST_KEPT = 2_000;

/** What a process remembers of the database. Everything is kept under a version, and made anew under another. */
export class Memory {
  readonly #kept = new Map<string, Kept>();

  /** What is kept on a shelf under a key and version, or else what `make` makes: once, however many ask meanwhile. */
  async recall<T>(shelf: Shelf<T>, key: string, version: number, make: () => Promise<T>): Promise<T> {
    const name = `${shelf.name} ${key}`;
    const known = this.#kept.get(name);
    if (known?.version === version) return known.value as Promise<T>;
    if (this.#kept.size >= MOST_KEPT) this.#kept.clear();
    const value = make();
    const kept = { version, value };
    this.#kept.set(name, kept);
    try {
      return await value;
    } catch (error) {
      // A failure is not remembered.
      if (this.#kept.get(name) === kept) this.#kept.delete(name);
      throw error;
    }
  }

  readonly #lasting = new Map<string, Promise<{ value: unknown; until: number }>>();

  /** The same for what says itself until when it holds, milliseconds since the epoch: made anew once that has passed. */
  async recallUntil<T>(
    shelf: Shelf<T>,
    key: string,
    now: number,
    make: () => Promise<{ value: T; until: number }>,
  ): Promise<T> {
    const name = `${shelf.name} ${key}`;
    for (;;) {
      let lasting = this.#lasting.get(name) as Promise<{ value: T; until: number }> | undefined;
      if (!lasting) {
        if (this.#lasting.size >= MOST_KEPT) this.#lasting.clear();
        lasting = make();
        this.#lasting.set(name, lasting);
        lasting.catch(() => this.#lasting.get(name) === lasting && this.#lasting.delete(name));
        return (await lasting).value;
      }
      const { value, until } = await lasting;
      if (now < until) return value;
      // Whoever finds it over first makes it anew, and the others wait for that.
      if (this.#lasting.get(name) === lasting) this.#lasting.delete(name);
    }
  }

  readonly #asking = new Map<string, { now: Promise<unknown>; next: Promise<unknown> | null }>();

  /**
   * Asks for something that many ask for at once: one question at a time. Whoever comes while one is being answered
   * shares the next, so that nobody gets an answer that is older than their own question.
   */
  together<T>(what: string, ask: () => Promise<T>): Promise<T> {
    const under = this.#asking.get(what);
    if (!under) return this.#begin(what, ask);
    under.next ??= under.now.then(
      () => this.#begin(what, ask),
      () => this.#begin(what, ask),
    );
    return under.next as Promise<T>;
  }

  #begin<T>(what: string, ask: () => Promise<T>): Promise<T> {
    const now = ask();
    const asking = { now, next: null };
    this.#asking.set(what, asking);
    const ended = () => {
      if (this.#asking.get(what) === asking && asking.next === null) this.#asking.delete(what);
    };
    now.then(ended, ended);
    return now;
  }
}

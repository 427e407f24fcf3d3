import type { Money } from "./money/money";

/** What goes into the places of a sentence. Lists are joined, money and places are written, in the reader's language. */
export type SaidValue =
  | string
  | number
  | Money
  | Said
  | { country: string }
  | { language: string }
  /** A day of the calendar, as "2026-11-25". */
  | { day: string }
  | readonly SaidValue[];
export type SaidValues = Readonly<Record<string, SaidValue>>;

/**
 * Something to tell a person: which sentence, by its code, and what goes into its places. The sentences stand in the
 * catalogues of `app/words`, one for each language.
 */
export interface Said {
  readonly code: string;
  readonly values: SaidValues;
}

export const said = (code: string, values: SaidValues = {}): Said => ({ code, values });

/** What is wrong with what came in: where it stands, as a path, and what to say about it. */
export interface Problem extends Said {
  readonly path: string;
}

/** What was read of something that came in: its value, or everything that is wrong with it. */
export type Reading<T> = { ok: true; value: T } | { ok: false; problems: Problem[] };

export const problem = (path: string, code: string, values: SaidValues = {}): Problem => ({
  path,
  code,
  values,
});

/** Sentences, and words that are a code of ours or somebody else's and stand as they are. */
export type Told = Said | string;

/** Whether two say the same. */
export const isSame = (one: Told, other: Told): boolean => JSON.stringify(one) === JSON.stringify(other);

/** Several sentences, one after the other. */
export const sentences = (parts: readonly Told[]): Said => said("sentences", { parts });

/** What somebody else said, in their own words, which no catalogue holds. */
export const verbatim = (words: string): Said => said("verbatim", { words });

/** Something went wrong that a person is to read about. */
export class ToldError extends Error {
  constructor(readonly says: Told) {
    super(typeof says === "string" ? says : says.code);
    this.name = "ToldError";
  }
}

/** Names in quotation marks. */
export const quoted = (names: readonly string[]): Said[] =>
  names.map((name) => said("words.quoted", { name }));

export const countries = (codes: readonly string[]) => codes.map((country) => ({ country }));
export const languages = (tags: readonly string[]) => tags.map((language) => ({ language }));

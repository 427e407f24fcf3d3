import { type Told } from "../said";
/** The longest document that is read, in letters. */
export const LONGEST_DOCUMENT = 300_000;

/** A complaint about a document as it was written: the line (from 1) it is about, and what it is. */
export interface DocumentProblem {
  line: number;
  /** Where it is, as a path such as `fields.0.pattern`; empty for the whole. */
  at: string;
  says: Told;
}

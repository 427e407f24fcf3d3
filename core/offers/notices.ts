import type { PlanRhythm } from "../profiles/answers";
import type { Money } from "../money/money";

/** The pages of a shop on which a notice can tell what paying in parts would come to. */
export const noticePlaces = ["home", "product", "basket", "checkout"] as const;
export type NoticePlace = (typeof noticePlaces)[number];

export const isNoticePlace = (value: unknown): value is NoticePlace =>
  noticePlaces.some((one) => one === value);

/** Whether a value from outside is a list of such pages, each once and at least one. */
export const areNoticePlaces = (value: unknown): value is NoticePlace[] =>
  Array.isArray(value) &&
  value.length > 0 &&
  value.every((one) => isNoticePlace(one)) &&
  new Set(value).size === value.length;

/** What paying an amount in parts comes to, as its provider quotes it. */
export interface QuotedPlan {
  payments: number;
  each: Money;
  total: Money;
  /** The effective annual rate in percent. */
  rate: number | null;
  every: PlanRhythm | null;
  /** After how many days the first payment is due. */
  firstAfter: number | null;
}
export interface Quoted {
  plans: QuotedPlan[];
  /** What the law wants to be read beside it. */
  text: string | null;
}

/** What a notice tells of one offer. */
export interface NoticeFacts {
  offer: string;
  label: string;
  quoted: Quoted;
}

/** The plan that asks for the least at a time; of those that ask for the same the shortest. Null: there is none. */
export const smallestOf = (plans: readonly QuotedPlan[]): QuotedPlan | null =>
  [...plans].sort((a, b) => a.each.amount - b.each.amount || a.payments - b.payments)[0] ?? null;

/** A notice in a shopper's words: two lines where it stands, and all plans behind a press. */
export interface NoticeView {
  offer: string;
  language: string;
  direction: "ltr" | "rtl";
  /** From how much at a time, and what that plan comes to. */
  lines: [string, string];
  /** What stands on the press that opens all plans, and on the one that closes them. */
  more: string;
  close: string;
  title: string;
  plans: string[];
  text: string | null;
}

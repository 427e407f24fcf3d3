import type { LookView } from "../looks/look";
import type { Mode } from "../mode";
import type { Money } from "../money/money";

/** What a letter says to a shopper whose subscription could not be charged, or soon cannot be. */
export interface AskingView {
  /** What it was charged to and ends before the next charge; null: the charge was refused. */
  ends: string | null;
  storefront: string;
  look: LookView;
  mode: Mode;
  language: string;
  country: string;
  /** Where pictures of the look are. */
  origin: string;
  /** What they subscribe to, what is due of it, since or on which day (milliseconds), and under which order number. */
  name: string;
  sum: Money;
  dueAt: number;
  /** By whose days. */
  timeZone: string;
  order: string;
  /** Where they pay with something else, or give something else to be charged to. */
  address: string;
}

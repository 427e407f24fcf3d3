import type { LookView } from "../looks/look";
import type { Mode } from "../mode";
import type { Money } from "../money/money";

/** What a letter says to a shopper whose subscription could not be charged. */
export interface AskingView {
  storefront: string;
  look: LookView;
  mode: Mode;
  language: string;
  country: string;
  /** Where pictures of the look are. */
  origin: string;
  /** What they subscribe to, what is due of it, since when (milliseconds), and under which order number. */
  name: string;
  sum: Money;
  dueAt: number;
  order: string;
  /** Where they pay it with something else. */
  address: string;
}

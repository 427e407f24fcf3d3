import type { LookView } from "../looks/look";
import type { Mode } from "../mode";
import type { Money } from "../money/money";
import type { OrderView } from "../orders/view";
import type { PlacedScene } from "../ways/offline/placed";
import type { ReceiptKind } from "./receipts";

/** What a shopper holds in hand about a payment: on a page, to print, or in a letter. */
export interface ReceiptView {
  kind: ReceiptKind;
  mode: Mode;
  storefront: string;
  look: LookView;
  order: OrderView;
  /** The way of paying, in the shopper's words, and the last digits or the like where there are some. */
  paidWith: string;
  instrument: string | null;
  /** What was paid; when it was, milliseconds since the epoch: null while nothing was. */
  paid: Money;
  paidAt: number | null;
  refunded: Money;
  /** How what is still to come is to be paid; null where nothing is. */
  placed: PlacedScene | null;
  /** What the shop itself says of it. */
  own: string | null;
  /** Where it is to be seen. */
  address: string;
  /** Where pictures are fetched from by a letter. */
  origin: string;
}

/** What a letter says: its subject, and its text plain and as HTML. */
export interface ReceiptLetter {
  subject: string;
  text: string;
  html: string;
}

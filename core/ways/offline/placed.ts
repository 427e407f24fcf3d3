import type { Money } from "../../money/money";
import type { RichText } from "../../rich-text";
import type { ScanCode } from "../../scan-code";
import type { OfflineKind } from "./kinds";
import type { SlipScene } from "./slip";

/** What a shopper writes on a transfer. */
export interface Transfer {
  holder: string;
  iban: string;
  bic: string;
  bank: string;
  reference: string;
  /** What a banking app reads; null where no such code can say it. */
  code: ScanCode | null;
}

/** The order is placed; how to pay it, and until when. */
export interface PlacedScene {
  name: "placed";
  kind: OfflineKind;
  instructions: RichText | null;
  transfer: Transfer | null;
  /** The telephone number to pay to. */
  phone: string | null;
  slip: SlipScene | null;
  /** What is still to come. */
  left: Money;
  due: number | null;
}

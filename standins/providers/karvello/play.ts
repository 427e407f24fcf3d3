import type { Bill } from "../../kit/house";
import { Fault } from "../../kit/provider";
import { answer, complain, type Counter, endWatch, lapse } from "./slips";

/** What can be played in the sandbox, and pressed in its dashboard: what otherwise banks and time do. */
export const plays: Readonly<Record<string, (counter: Counter, bill: Bill) => void>> = {
  pass: (counter, bill) => answer(counter, bill, true),
  fail: (counter, bill) => answer(counter, bill, false),
  lapse,
  clear: (counter, bill) => endWatch(counter, bill, "clear"),
  stop: (counter, bill) => endWatch(counter, bill, "stopped"),
  complain: (counter, bill) => complain(counter, bill, "open"),
  "for-shop": (counter, bill) => complain(counter, bill, "for_shop"),
  "for-holder": (counter, bill) => complain(counter, bill, "for_holder"),
};

export function play(counter: Counter, bill: Bill, name: string): void {
  if (!Object.hasOwn(plays, name)) throw new Fault(400, "K-440", `Nobody can play “${name.slice(0, 30)}”`);
  plays[name]?.(counter, bill);
}

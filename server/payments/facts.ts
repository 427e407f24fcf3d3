import { rowsBy } from "../database/prepared";
import type { Fact } from "../database/rows";
import { facts } from "../database/schema";
import type { Runtime } from "../runtime";

const ofPayment = rowsBy(facts, ["paymentId"], facts.number);

/** Everything that was ever learned about a payment, in the order in which it was written down. */
export const recordedOf = (rt: Pick<Runtime, "db">, paymentId: string): Promise<Fact[]> =>
  ofPayment(rt.db).all({ paymentId });

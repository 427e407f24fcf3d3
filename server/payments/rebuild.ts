import { and, eq } from "drizzle-orm";
import { fold } from "#core/payments/fold";
import type { Statement as FactStatement } from "#core/payments/facts";
import type { Statement } from "../database/open";
import { payments } from "../database/schema";
import type { Runtime } from "../runtime";
import { projected } from "./record";

const AT_A_TIME = 2_000;

/** How far a rebuild has come. `mended`: rows that said otherwise than their facts. */
export interface Rebuilt {
  done: number;
  of: number;
  mended: number;
}

type Projected = ReturnType<typeof projected>;
/** What is kept beside the facts, in the order in which it is read and compared. */
const kept = Object.keys(projected(fold([]), "EUR")) as (keyof Projected)[];

const columnOf = (name: string) => name.replace(/[A-Z]/g, (one) => `_${one.toLowerCase()}`);

/** A row and its facts come as two texts: a million rows of many columns take longer to be handed over than to be folded. */
const PAGE = `select p.id, p.currency, p.version,
    json_array(${kept.map((name) => `p.${columnOf(name)}`).join(", ")}) as kept,
    (select json_group_array(json(f.statement)) from facts f where f.payment_id = p.id) as statements
  from payments p where p.id > ? order by p.id limit ${AT_A_TIME}`;

/**
 * Folds the facts of every payment anew and mends each row that says otherwise. It may run beside everything else: a row
 * that somebody writes meanwhile is right by that. Nothing that follows from a move of money is done; only what is kept
 * beside the facts is brought in line with them.
 */
export async function rebuildProjections(
  rt: Pick<Runtime, "db" | "now">,
  onProgress: (so: Rebuilt) => void = () => {},
): Promise<Rebuilt> {
  const { client } = rt.db;
  const [count] = (await client.execute("select count(*) as n from payments")).rows;
  const so: Rebuilt = { done: 0, of: Number(count?.n ?? 0), mended: 0 };
  for (let after = ""; ;) {
    const { rows } = await client.execute({ sql: PAGE, args: [after] });
    const last = rows.at(-1);
    if (!last) return so;
    const mending = rows.flatMap((row) => {
      const statements = JSON.parse(String(row.statements)) as FactStatement[];
      const wanted = projected(fold(statements.map((statement) => ({ statement }))), String(row.currency));
      const same = JSON.stringify(kept.map((name) => wanted[name])) === row.kept;
      return same ? [] : [mended(rt, String(row.id), Number(row.version), wanted)];
    });
    if (mending.length > 0) await rt.db.write(mending);
    so.done += rows.length;
    so.mended += mending.length;
    onProgress({ ...so });
    after = String(last.id);
  }
}

/** The statement that brings a row in line; it does nothing to one that somebody has written since it was read. */
const mended = (
  { db, now }: Pick<Runtime, "db" | "now">,
  id: string,
  version: number,
  wanted: Projected,
): Statement =>
  db.orm
    .update(payments)
    .set({ ...wanted, version: version + 1, updatedAt: now() })
    .where(and(eq(payments.id, id), eq(payments.version, version)));

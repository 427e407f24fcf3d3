import type { Database } from "./database/open";
import { endpoints, keyring } from "./database/schema";
import type { Seal } from "./seal";

/** Thrown at the start when the database was sealed with another master key. */
export class WrongMasterKey extends Error {
  constructor() {
    super(
      "The master key is not the one that this database was sealed with: no provider key and no secret in it can be read. " +
        "Start with the key of before (ZAHLUNG_MASTER_KEY, or the file beside the database), or with another database.",
    );
    this.name = "WrongMasterKey";
  }
}

const WORD = "this key opens it";
const PURPOSE = "keyring";

/**
 * Checks that the seal opens what the database holds, before anything is done with either. A database that has not
 * been asked so far is asked by the secret of one of its endpoints, and keeps a word of its own from then on.
 * @throws WrongMasterKey
 */
export async function checkMasterKey(db: Database, seal: Seal): Promise<void> {
  const opens = (sealed: string, purpose: string) => {
    try {
      return seal.open(sealed, purpose) !== "";
    } catch {
      return false;
    }
  };
  const kept = async () => (await db.orm.select({ sealed: keyring.sealed }).from(keyring).limit(1))[0];
  let word = await kept();
  if (!word) {
    const [earlier] = await db.orm
      .select({ id: endpoints.id, secret: endpoints.secret })
      .from(endpoints)
      .limit(1);
    if (earlier && !opens(earlier.secret, `endpoint:${earlier.id}`)) throw new WrongMasterKey();
    const sealed = seal.close(WORD, PURPOSE);
    await db.write([db.orm.insert(keyring).values({ id: 1, sealed }).onConflictDoNothing()]);
    word = await kept();
  }
  if (!word || !opens(word.sealed, PURPOSE)) throw new WrongMasterKey();
}

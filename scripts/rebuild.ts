import { rebuildProjections } from "#server/payments/rebuild";
import { openRuntime } from "#server/runtime";
import { readSettings } from "#server/settings";
import { tell } from "./english";

// Folds the facts of every payment anew, in the database that the environment names, and says how far it has come.

const rt = await openRuntime(readSettings(process.env, { production: true }), {
  root: process.cwd(),
  speak: tell,
});
let told = 0;
const end = await rebuildProjections(rt, ({ done, of, mended }) => {
  if (Date.now() - told < 1_000 && done < of) return;
  told = Date.now();
  console.log(`${done} of ${of} payments, ${mended} mended`);
});
rt.db.close();
console.log(
  end.mended === 0 ? "Every payment says what its facts say." : `${end.mended} payments were mended.`,
);

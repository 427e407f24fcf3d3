// Connects ten accounts to Luvwinkel DE in the world of a browser test, and offers what can be offered beside each other,
// through the functions that the interface calls. Zahlung itself runs in its own process and takes the messages.
import { serveStorefront } from "#server/connections/disconnect";
import { openRuntime } from "#server/runtime";
import { readSettings } from "#server/settings";
import { connectAccount, offerMethod, storefrontBy } from "../demo/accounts";
import { whereIs } from "../demo/play";
import { demoOwner } from "../demo/scenario";

const rt = await openRuntime(readSettings(process.env, { production: true }), { root: process.cwd() });
const standins = process.env.STANDINS_ORIGIN ?? "";
const DE = "luvwinkel-de";
await rt.db.client.execute({
  sql: "update storefronts set stages = ? where id = ?",
  args: [JSON.stringify(["Reserved", "Paid", "Refused", "Refunded", "Under question"]), DE],
});
const accounts: [provider: string, holder: string, method: string | null][] = [
  ["karvello", "Luvwinkel Drachenbau", "card"],
  ["pennywhistle", "Luvwinkel Drachenbau", "wallet"],
  ["ratenhaus", "Luvwinkel Drachenbau", "plan"],
  ["quippa", "Luvwinkel Drachenbau", "scan"],
  ["ostwick", "Luvwinkel Drachenbau", null],
  ["karvello", "Luvwinkel Handel", null],
  ["karvello", "Luvwinkel Kites Ltd", null],
  ["ostwick", "Luvwinkel Kites Ltd", null],
  ["ratenhaus", "Luvwinkel Wien", null],
  ["pennywhistle", "Luvwinkel Kites Ltd", null],
];
for (const [i, [provider, holder, method]] of accounts.entries()) {
  const { connectionId } = await connectAccount(rt, standins, {
    provider,
    storefrontId: DE,
    holder,
    name: i < 5 ? undefined : `${provider} ${i}`,
    modes: ["test"],
  });
  if (method) await offerMethod(rt, DE, connectionId, method, {});
  await storefrontBy(rt, DE);
  if (i === 1)
    await serveStorefront(rt, demoOwner.email, await whereIs(rt, connectionId), "luvwinkel-uk", true);
}
rt.db.close();

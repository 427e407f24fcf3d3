import { isSame, type Said, said, sentences } from "#core/said";
import { and, eq } from "drizzle-orm";
import { methodOf } from "#core/profiles/profile";
import type { AccountReading } from "#core/profiles/answers";
import { changeSettings } from "../audit/audit";
import { guard, guardFailed } from "../database/guard";
import { connections } from "../database/schema";
import type { Runtime } from "../runtime";
import { mustStand, runsInLive } from "../storefronts/now";
import type { ConnectionWithProfile } from "./connections";
import { type KeySide, keySideOf } from "./key-sides";

/** What a person has to see of an account before it takes the place of another. */
export type AccountSummary = Pick<AccountReading, "account" | "name" | "country" | "mayCharge"> & {
  currencies: string[];
};

/** Live keys that open another account than the one that is live, with both side by side. */
export interface AccountChange {
  old: AccountSummary | null;
  new: AccountSummary;
  /** Why the new one cannot serve what is live; empty when it can. */
  cannot: Said[];
}

const summary = ({ account, name, country, mayCharge, currencies }: AccountReading): AccountSummary => ({
  account,
  name,
  country,
  mayCharge,
  currencies: currencies.map((one) => one.charged),
});

/** The change of account that proven live keys wait for a person to agree to; null when none does. */
export async function accountChange(
  rt: Runtime,
  where: ConnectionWithProfile,
  { paying, waiting }: KeySide,
): Promise<AccountChange | null> {
  if (!waiting) return null;
  return {
    old: paying ? summary(paying.account) : null,
    new: summary(waiting.account),
    cannot: await cannotServe(rt, where, waiting.account),
  };
}

/** What is live through a connection that an account could not serve. */
async function cannotServe(
  rt: Runtime,
  { connection, liveOn }: ConnectionWithProfile,
  account: AccountReading,
): Promise<Said[]> {
  const cannot: Said[] = [];
  if (!account.mayCharge)
    cannot.push(
      said("account-change.may-not-charge", {
        hasReason: account.because ? "yes" : "no",
        reason: account.because ?? "",
      }),
    );
  const charged = account.currencies.map((one) => one.charged);
  for (const id of liveOn) {
    const { storefront, offers } = await mustStand(rt, id);
    for (const one of offers.filter((each) => each.connection.id === connection.id && runsInLive(each))) {
      const method = methodOf(one.versions.live.profile, one.offer.methodId);
      const { currencies } = (one.live ?? one.working).document;
      const sold = (currencies.length ? currencies : storefront.currencies).filter((currency) =>
        method?.currencies.includes(currency),
      );
      const lost = sold.filter((currency) => !charged.includes(currency));
      if (lost.length > 0)
        cannot.push(
          said("account-change.cannot-charge-live", { currencies: lost, storefront: storefront.name }),
        );
      const told = account.methods?.find((each) => each.id === one.offer.methodId);
      if (told && !told.on)
        cannot.push(
          said("account-change.switched-off-live", {
            method: method?.name ?? one.offer.methodId,
            storefront: storefront.name,
          }),
        );
    }
  }
  return cannot.filter((one, i) => cannot.findIndex((other) => isSame(other, one)) === i);
}

/** Has live payments made with the account that newer proven keys open. Refused while it cannot serve what is live. */
export async function agreeToAccount(
  rt: Runtime,
  person: string,
  where: ConnectionWithProfile,
  account: string,
): Promise<{ ok: true } | { ok: false; says: Said }> {
  const { connection } = where;
  const change = await accountChange(rt, where, await keySideOf(rt, where, "live"));
  if (!change || change.new.account !== account)
    return { ok: false, says: said("account-change.keys-changed-since-you") };
  if (change.cannot.length > 0)
    return {
      ok: false,
      says: said("account-change.new-account-cannot-serve", { because: sentences(change.cannot) }),
    };
  try {
    await changeSettings(
      rt,
      {
        person,
        action: "live account changed",
        subject: connection.id,
        detail: { from: change.old?.account ?? null, to: account },
      },
      [
        guard(
          connections,
          and(eq(connections.id, connection.id), eq(connections.liveAccount, connection.liveAccount ?? "")),
        ),
        rt.db.orm.update(connections).set({ liveAccount: account }).where(eq(connections.id, connection.id)),
      ],
    );
    return { ok: true };
  } catch (error) {
    if (!guardFailed(error)) throw error;
    return { ok: false, says: said("account-change.somebody-else-changed-same") };
  }
}

import { data, Link, useFetcher } from "react-router";
import { modeShown } from "#server/connections/connections";
import { askForPayouts } from "#server/payouts/read";
import { listPayouts, payoutAccounts, type PayoutAccount as SaidAccount } from "#server/payouts/list";
import { runtimeContext } from "../context";
import type { Looking } from "../frame/looking";
import { localeOf, mustStandAt } from "../frame/storefront-context";
import { Amount } from "../parts/amount";
import { type Column, DataTable } from "../parts/data-table";
import { Filters } from "../parts/filters";
import { Button } from "../parts/form";
import { useLive } from "../parts/live";
import { Says } from "../parts/marks";
import { SelectBox } from "../parts/select-box";
import { Mono, PageHead, Sheet, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { mustOperate } from "../people/session";
import type { Spoken } from "../words/speak";
import { spokenIn } from "../words/spoken.server";
import { PayoutState } from "./payout-state";
import type { Route } from "./+types/payouts";
import { t } from "../words/pages/payouts";

export const meta: Route.MetaFunction = () => [{ title: t("payouts-zahlung") }];

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const now = await mustStandAt(context, params.storefront);
  const rt = context.get(runtimeContext);
  const search = new URL(request.url).searchParams;
  const mode = await modeShown(rt, now.storefront.id, search.get("mode"));
  const names = new Map(now.connections.map(({ connection }) => [connection.id, connection.name]));
  const wanted = search.get("connection");
  const filter = {
    mode,
    connectionId: wanted !== null && names.has(wanted) ? wanted : null,
    after: search.get("after"),
  };
  const [page, accounts] = await Promise.all([listPayouts(rt, now, filter), payoutAccounts(rt, now, mode)]);
  return spokenIn(localeOf(now.storefront)).spoken({
    looking: { mode, may: ["test", "live"] } satisfies Looking,
    filter,
    locale: localeOf(now.storefront),
    accounts,
    next: page.next,
    rows: page.rows.map(({ id, providerId, connectionId, paidAt, arrivesAt, ...row }) => ({
      ...{ id, providerId, paidAt, arrivesAt, account: names.get(connectionId) ?? "" },
      ...{ amount: row.amount, currency: row.currency, state: row.state, isRead: row.isRead, word: row.word },
      ...{ sum: row.sum, entries: row.entries },
    })),
  });
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt } = mustOperate(context);
  const now = await mustStandAt(context, params.storefront);
  const form = await request.formData();
  const id = String(form.get("connection"));
  const mode = form.get("mode") === "live" ? "live" : "test";
  if (!now.connections.some(({ connection }) => connection.id === id))
    throw data(t("there-is-no-such-account"), { status: 404 });
  await rt.db.write([askForPayouts(rt, id, mode)]);
  rt.nudge();
  return { ok: true };
}

type RowView = Route.ComponentProps["loaderData"]["rows"][number];

function columnsOf(locale: string): Column<RowView>[] {
  return [
    { id: "paid", head: t("paid"), always: true, cell: (row) => <When at={row.paidAt} /> },
    { id: "account", head: t("account"), cell: (row) => row.account },
    { id: "name", head: t("name-over-there"), wide: true, cell: (row) => <Mono>{row.providerId}</Mono> },
    { id: "entries", head: t("entries"), amount: true, wide: true, cell: (row) => row.entries },
    { id: "state", head: t("state"), always: true, cell: (row) => <PayoutState payout={row} /> },
    {
      id: "amount",
      head: t("amount"),
      amount: true,
      always: true,
      cell: (row) => <Amount amount={row.amount} currency={row.currency} locale={locale} />,
    },
  ];
}

export default function Payouts({ loaderData, params }: Route.ComponentProps) {
  const { filter, rows, next, locale, accounts } = loaderData;
  useLive(filter.after === null, 5_000);
  const tell = accounts.filter(({ tells }) => tells);
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <h1>{t("payouts")}</h1>
          <p>{t("what-each-account-paid-to")}</p>
        </div>
      </PageHead>
      <Sheet>
        <Stack>
          {tell.length > 1 && (
            <Filters label={t("payouts")} keep={["mode", "columns"]}>
              <SelectBox
                label={t("account")}
                name="connection"
                defaultValue={filter.connectionId ?? ""}
                choices={[
                  { id: "", name: t("any") },
                  ...tell.map((one) => ({ id: one.connectionId, name: one.name })),
                ]}
              />
            </Filters>
          )}
          <DataTable
            label={t("payouts")}
            columns={columnsOf(locale)}
            rows={rows}
            rowKey={(row) => row.id}
            rowTo={(row) => `/s/${params.storefront}/operate/payouts/${row.id}`}
            next={next}
            first={filter.after === null}
            empty={
              <Says meaning="none">
                {t("nothing-was-paid-out-in", {
                  noTell: tell.length === 0 ? "yes" : "no",
                  mode: filter.mode,
                })}
              </Says>
            }
          />
        </Stack>
      </Sheet>
      <Sheet>
        <Stack>
          <h2>{t("accounts")}</h2>
          <DataTable
            label={t("accounts")}
            columns={accountColumns(locale, filter.mode, `/s/${params.storefront}`)}
            rows={accounts}
            rowKey={(row) => row.connectionId}
            empty={<Says meaning="none">{t("no-account-has-keys-in", { mode: filter.mode })}</Says>}
          />
        </Stack>
      </Sheet>
    </Stack>
  );
}

type AccountView = Spoken<SaidAccount>;

function accountColumns(locale: string, mode: string, at: string): Column<AccountView>[] {
  return [
    {
      id: "account",
      head: t("account"),
      always: true,
      cell: (row) => <Link to={`${at}/connect/${row.connectionId}`}>{row.name}</Link>,
    },
    { id: "read", head: t("read"), always: true, cell: (row) => <ReadLast account={row} /> },
    {
      id: "missed",
      head: t("captured-and-in-no-payout"),
      always: true,
      cell: (row) => <Missed account={row} locale={locale} />,
    },
    {
      id: "act",
      head: "",
      always: true,
      cell: (row) => row.tells && <ReadNow connectionId={row.connectionId} mode={mode} />,
    },
  ];
}

function ReadLast({ account: { tells, askedAt, outcome } }: { account: AccountView }) {
  if (!tells) return <Small as="span">{t("its-profile-tells-of-no")}</Small>;
  if (outcome !== null) return <Says meaning="waits">{outcome}</Says>;
  return askedAt === null ? <Says meaning="none">{t("not-yet")}</Says> : <When at={askedAt} />;
}

function Missed({ account: { tells, missed }, locale }: { account: AccountView; locale: string }) {
  if (!tells) return null;
  if (missed.length === 0) return <Says meaning="proven">{t("nothing")}</Says>;
  return (
    <Stack $gap={0.1}>
      {missed.map(({ currency, amount, payments }) => (
        <Says key={currency} meaning="waits">
          {t("amount-of-payments-payments", {
            amount: <Amount amount={amount} currency={currency} locale={locale} />,
            payments,
          })}
        </Says>
      ))}
    </Stack>
  );
}

function ReadNow({ connectionId, mode }: { connectionId: string; mode: string }) {
  const fetcher = useFetcher<typeof action>();
  return (
    <fetcher.Form method="post">
      <input type="hidden" name="connection" value={connectionId} />
      <input type="hidden" name="mode" value={mode} />
      <Button type="submit" $kind="plain" disabled={fetcher.state !== "idle"}>
        {t("read-now")}
      </Button>
    </fetcher.Form>
  );
}

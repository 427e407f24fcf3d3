import { data, Link } from "react-router";
import type { EntryKind } from "#core/profiles/profile";
import { payoutHere } from "#server/payouts/list";
import { runtimeContext } from "../context";
import type { Looking } from "../frame/looking";
import { localeOf, mustStandAt } from "../frame/storefront-context";
import { Amount } from "../parts/amount";
import { type Column, DataTable } from "../parts/data-table";
import { useLive } from "../parts/live";
import { ModePlate, Note, Says } from "../parts/marks";
import { Mono, PageHead, Row, Sheet, Small, Stack, Table } from "../parts/sheet";
import { When } from "../parts/when";
import { PayoutState } from "./payout-state";
import type { Route } from "./+types/payout";
import { t } from "../words/pages/payouts";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: t("payout-provider-id-zahlung", { providerId: loaderData?.payout.providerId ?? "" }) },
];

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const now = await mustStandAt(context, params.storefront);
  const rt = context.get(runtimeContext);
  const after = new URL(request.url).searchParams.get("after");
  const found = await payoutHere(rt, now.storefront.id, params.payout, after);
  if (!found) throw data(t("there-is-no-such-payout"), { status: 404 });
  const account = now.connections.find(({ connection }) => connection.id === found.payout.connectionId);
  return {
    looking: { mode: found.payout.mode, may: [] } satisfies Looking,
    locale: localeOf(now.storefront),
    first: after === null,
    account: account?.connection.name ?? "",
    ...found,
  };
}

type View = Route.ComponentProps["loaderData"];

const kinds: Record<EntryKind, string> = {
  payment: t("payment"),
  refund: t("refund"),
  dispute: t("dispute"),
  fee: t("fee"),
  other: t("other"),
};

const whenOf = ({ at }: View["entries"][number]) => at !== null && <When at={at} />;

function columnsOf({ locale, payout, entries }: View, at: string): Column<View["entries"][number]>[] {
  const net = (amount: number) => <Amount amount={amount} currency={payout.currency} locale={locale} />;
  return [
    {
      id: "what",
      head: t("what"),
      always: true,
      cell: ({ kind, word }) => (kind === "other" ? word : kinds[kind]),
    },
    {
      id: "order",
      head: t("order"),
      always: true,
      cell: ({ here, order, paymentId, reference, ref }) =>
        here ? (
          <Link to={`${at}/operate/${paymentId}`}>
            <Mono>{order}</Mono>
          </Link>
        ) : order !== null ? (
          <>
            <Mono>{order}</Mono> <Small as="span">{t("another-storefront")}</Small>
          </>
        ) : (reference ?? ref) !== null ? (
          <Says meaning="none">
            <Mono>{reference ?? ref}</Mono> {t("not-made-here")}
          </Says>
        ) : null,
    },
    // Not every provider says when.
    ...(entries.some((one) => one.at !== null)
      ? [{ id: "at", head: t("when"), wide: true, cell: whenOf }]
      : []),
    {
      id: "amount",
      head: t("amount"),
      amount: true,
      wide: true,
      cell: (row) => <Amount amount={row.amount} currency={row.currency} locale={locale} />,
    },
    { id: "fee", head: t("kept"), amount: true, wide: true, cell: (row) => row.fee !== 0 && net(row.fee) },
    { id: "net", head: t("paid-out"), amount: true, always: true, cell: (row) => net(row.net) },
  ];
}

export default function PayoutPage({ loaderData, params }: Route.ComponentProps) {
  const { payout, account, sums, entries, next, first, locale } = loaderData;
  const at = `/s/${params.storefront}`;
  const sum = (amount: number) => <Amount amount={amount} currency={payout.currency} locale={locale} />;
  const strange = sums.reduce((total, one) => total + one.strange, 0);
  useLive(!payout.isRead && first, 3_000);
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <h1>
            {t("amount-from-account", { amount: sum(payout.amount), account })}{" "}
            <ModePlate mode={payout.mode} />
          </h1>
          <p>
            <Mono>{payout.providerId}</Mono>
            {t("paid-when", { when: <When at={payout.paidAt} /> })}
            {payout.arrivesAt !== null && t("on-the-account-when", { when: <When at={payout.arrivesAt} /> })}
          </p>
        </div>
        <PayoutState payout={payout} />
      </PageHead>
      {payout.state === "failed" && (
        <Note meaning="wrong">
          {t("this-payout-came-back-its", { b: (inner) => <strong>{inner}</strong>, account })}
        </Note>
      )}
      {payout.isRead && payout.sum !== payout.amount && (
        <Note meaning="wrong">
          {t("the-entries-do-not-add", {
            b: (inner) => <strong>{inner}</strong>,
            sum: sum(payout.sum),
            amount: sum(payout.amount),
            account,
            difference: sum(payout.amount - payout.sum),
          })}
        </Note>
      )}
      <Sheet>
        <Stack>
          <h2>{t("what-it-comes-to")}</h2>
          <Table>
            <thead>
              <tr>
                <th>{t("what")}</th>
                <th className="amount">{t("entries")}</th>
                <th className="amount">{t("kept")}</th>
                <th className="amount">{t("paid-out")}</th>
              </tr>
            </thead>
            <tbody>
              {sums.map((one) => (
                <tr key={one.kind}>
                  <td>{kinds[one.kind]}</td>
                  <td className="amount">{one.entries}</td>
                  <td className="amount">{sum(one.fee)}</td>
                  <td className="amount">{sum(one.net)}</td>
                </tr>
              ))}
              <tr>
                <td>
                  <strong>{t("all")}</strong>
                </td>
                <td className="amount">{payout.entries}</td>
                <td className="amount">{sum(sums.reduce((total, one) => total + one.fee, 0))}</td>
                <td className="amount">
                  <strong>{sum(payout.sum)}</strong>
                </td>
              </tr>
            </tbody>
          </Table>
          {strange > 0 && <Small>{t("strange-entries-name-no-payment", { strange })}</Small>}
        </Stack>
      </Sheet>
      <Sheet>
        <Stack>
          <Row $gap={1}>
            <h2>{t("entries")}</h2>
          </Row>
          <DataTable
            label={t("entries")}
            columns={columnsOf(loaderData, at)}
            rows={entries}
            rowKey={(row) => row.id}
            next={next}
            first={first}
            csv={`${at}/operate/payouts/${payout.id}/entries.csv`}
            empty={<Says meaning="none">{t("no-entry-has-come-in")}</Says>}
          />
        </Stack>
      </Sheet>
    </Stack>
  );
}

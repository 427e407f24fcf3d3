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

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Payout ${loaderData?.payout.providerId ?? ""} · Zahlung` },
];

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const now = await mustStandAt(context, params.storefront);
  const rt = context.get(runtimeContext);
  const after = new URL(request.url).searchParams.get("after");
  const found = await payoutHere(rt, now.storefront.id, params.payout, after);
  if (!found) throw data("There is no such payout here.", { status: 404 });
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
  payment: "Payment",
  refund: "Refund",
  dispute: "Dispute",
  fee: "Fee",
  other: "Other",
};

const whenOf = ({ at }: View["entries"][number]) => at !== null && <When at={at} />;

function columnsOf({ locale, payout, entries }: View, at: string): Column<View["entries"][number]>[] {
  const net = (amount: number) => <Amount amount={amount} currency={payout.currency} locale={locale} />;
  return [
    {
      id: "what",
      head: "What",
      always: true,
      cell: ({ kind, word }) => (kind === "other" ? word : kinds[kind]),
    },
    {
      id: "order",
      head: "Order",
      always: true,
      cell: ({ here, order, paymentId, reference, ref }) =>
        here ? (
          <Link to={`${at}/operate/${paymentId}`}>
            <Mono>{order}</Mono>
          </Link>
        ) : order !== null ? (
          <>
            <Mono>{order}</Mono> <Small as="span">another storefront</Small>
          </>
        ) : (reference ?? ref) !== null ? (
          <Says meaning="none">
            <Mono>{reference ?? ref}</Mono> not made here
          </Says>
        ) : null,
    },
    // Not every provider says when.
    ...(entries.some((one) => one.at !== null) ? [{ id: "at", head: "When", wide: true, cell: whenOf }] : []),
    {
      id: "amount",
      head: "Amount",
      amount: true,
      wide: true,
      cell: (row) => <Amount amount={row.amount} currency={row.currency} locale={locale} />,
    },
    { id: "fee", head: "Kept", amount: true, wide: true, cell: (row) => row.fee !== 0 && net(row.fee) },
    { id: "net", head: "Paid out", amount: true, always: true, cell: (row) => net(row.net) },
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
            {sum(payout.amount)} from {account} <ModePlate mode={payout.mode} />
          </h1>
          <p>
            <Mono>{payout.providerId}</Mono>, paid <When at={payout.paidAt} />
            {payout.arrivesAt !== null && (
              <>
                , on the account <When at={payout.arrivesAt} />
              </>
            )}
          </p>
        </div>
        <PayoutState payout={payout} />
      </PageHead>
      {payout.state === "failed" && (
        <Note meaning="wrong">
          <strong>This payout came back.</strong> Its payments count as not paid out. Look at the bank account
          that {account} has of you.
        </Note>
      )}
      {payout.isRead && payout.sum !== payout.amount && (
        <Note meaning="wrong">
          <strong>The entries do not add up.</strong> They come to {sum(payout.sum)}, and {sum(payout.amount)}{" "}
          was paid. Ask {account} what the other {sum(payout.amount - payout.sum)} are.
        </Note>
      )}
      <Sheet>
        <Stack>
          <h2>What it comes to</h2>
          <Table>
            <thead>
              <tr>
                <th>What</th>
                <th className="amount">Entries</th>
                <th className="amount">Kept</th>
                <th className="amount">Paid out</th>
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
                  <strong>All</strong>
                </td>
                <td className="amount">{payout.entries}</td>
                <td className="amount">{sum(sums.reduce((total, one) => total + one.fee, 0))}</td>
                <td className="amount">
                  <strong>{sum(payout.sum)}</strong>
                </td>
              </tr>
            </tbody>
          </Table>
          {strange > 0 && (
            <Small>
              {strange === 1 ? "One entry names" : `${strange} entries name`} no payment that was made here:
              what was sold elsewhere through the same account, or a fee.
            </Small>
          )}
        </Stack>
      </Sheet>
      <Sheet>
        <Stack>
          <Row $gap={1}>
            <h2>Entries</h2>
          </Row>
          <DataTable
            label="Entries"
            columns={columnsOf(loaderData, at)}
            rows={entries}
            rowKey={(row) => row.id}
            next={next}
            first={first}
            csv={`${at}/operate/payouts/${payout.id}/entries.csv`}
            empty={<Says meaning="none">no entry has come in yet</Says>}
          />
        </Stack>
      </Sheet>
    </Stack>
  );
}

import { modeShown } from "#server/connections/connections";
import { type Charged, chargedIn, monthOf } from "#server/costs/charged";
import { runtimeContext } from "../context";
import type { Looking } from "../frame/looking";
import { localeOf, mustStandAt } from "../frame/storefront-context";
import { Amount } from "../parts/amount";
import { type Column, DataTable } from "../parts/data-table";
import { Filters } from "../parts/filters";
import { Note, Says } from "../parts/marks";
import { SelectBox } from "../parts/select-box";
import { PageHead, Sheet, Small, Stack } from "../parts/sheet";
import type { Route } from "./+types/charged";

export const meta: Route.MetaFunction = () => [{ title: "Fees · Zahlung" }];

const MONTHS = 13;
const nameOf = (at: number) => new Date(at).toISOString().slice(0, 7);

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const now = await mustStandAt(context, params.storefront);
  const rt = context.get(runtimeContext);
  const search = new URL(request.url).searchParams;
  const mode = await modeShown(rt, now.storefront.id, search.get("mode"));
  const months: string[] = [];
  for (let at = rt.now(); months.length < MONTHS; at = monthOf(at).from - 1) months.push(nameOf(at));
  const month = months.find((one) => one === search.get("month")) ?? months[0] ?? "";
  const { rows, more } = await chargedIn(rt, now, mode, monthOf(Date.parse(`${month}-15T00:00:00Z`)));
  const accounts = new Map(now.connections.map(({ connection }) => [connection.id, connection.name]));
  return {
    looking: { mode, may: ["test", "live"] } satisfies Looking,
    mode,
    month,
    months,
    more,
    locale: localeOf(now.storefront),
    rows: rows.map((row) => ({ ...row, account: accounts.get(row.connectionId) ?? "" })),
  };
}

type RowView = Charged & { account: string };

function columnsOf(locale: string): Column<RowView>[] {
  const sum = (amount: number, { currency }: RowView) => (
    <Amount amount={amount} currency={currency} locale={locale} />
  );
  return [
    { id: "account", head: "Account", always: true, cell: (row) => row.account },
    { id: "payments", head: "Payments", amount: true, wide: true, cell: (row) => row.payments },
    { id: "captured", head: "Captured", amount: true, wide: true, cell: (row) => sum(row.captured, row) },
    {
      id: "expected",
      head: "Expected of all",
      amount: true,
      wide: true,
      cell: (row) => sum(row.expectedOfAll, row),
    },
    {
      id: "told",
      head: "Told of",
      amount: true,
      cell: (row) => (row.told === row.payments ? "all" : `${row.told} of ${row.payments}`),
    },
    {
      id: "charged",
      head: "Charged",
      amount: true,
      always: true,
      cell: (row) => row.told > 0 && sum(row.charged, row),
    },
    { id: "should", head: "Expected", amount: true, cell: (row) => row.told > 0 && sum(row.expected, row) },
    {
      id: "difference",
      head: "Difference",
      amount: true,
      always: true,
      cell: (row) => <Difference row={row} locale={locale} />,
    },
  ];
}

function Difference({ row, locale }: { row: RowView; locale: string }) {
  const { charged, expected, told, currency } = row;
  if (told === 0) return <Small as="span">nothing was told</Small>;
  if (charged === expected) return <Says meaning="proven">none</Says>;
  return (
    <Says meaning="waits">
      <Amount amount={Math.abs(charged - expected)} currency={currency} locale={locale} />{" "}
      {charged > expected ? "more" : "less"}
    </Says>
  );
}

export default function ChargedPage({ loaderData }: Route.ComponentProps) {
  const { rows, mode, month, months, more, locale } = loaderData;
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <h1>Fees</h1>
          <p>What each account charged for its payments, beside what its published rates say.</p>
        </div>
      </PageHead>
      <Sheet>
        <Stack>
          <Filters label="Fees" keep={["mode", "columns"]}>
            <SelectBox
              label="Month"
              name="month"
              defaultValue={month}
              choices={months.map((one) => ({ id: one, name: one }))}
            />
          </Filters>
          <DataTable
            label="Fees"
            columns={columnsOf(locale)}
            rows={rows}
            rowKey={(row) => `${row.connectionId} ${row.currency}`}
            next={null}
            first
            empty={<Says meaning="none">{`nothing was captured in ${mode} in ${month}`}</Says>}
          />
          {more && (
            <Note meaning="waits">
              There were more payments than are reckoned here: the first 100,000 are.
            </Note>
          )}
          <Small>
            Where a provider tells the fee of a payment, it is held against the rates of that payment’s
            profile version, with the volume of its month; a surcharge for foreign cards is not known
            beforehand. Months are those of UTC. Monthly fees, and fees for refunds and disputes, are not in
            it.
          </Small>
        </Stack>
      </Sheet>
    </Stack>
  );
}

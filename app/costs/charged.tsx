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
import { t } from "../words/pages/costs";

export const meta: Route.MetaFunction = () => [{ title: t("fees-zahlung") }];

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
    { id: "account", head: t("account"), always: true, cell: (row) => row.account },
    { id: "payments", head: t("payments"), amount: true, wide: true, cell: (row) => row.payments },
    { id: "captured", head: t("captured"), amount: true, wide: true, cell: (row) => sum(row.captured, row) },
    {
      id: "expected",
      head: t("expected-of-all"),
      amount: true,
      wide: true,
      cell: (row) => sum(row.expectedOfAll, row),
    },
    {
      id: "told",
      head: t("told-of"),
      amount: true,
      cell: (row) =>
        row.told === row.payments
          ? t("all")
          : t("told-of-payments", { told: row.told, payments: row.payments }),
    },
    {
      id: "charged",
      head: t("charged"),
      amount: true,
      always: true,
      cell: (row) => row.told > 0 && sum(row.charged, row),
    },
    {
      id: "should",
      head: t("expected"),
      amount: true,
      cell: (row) => row.told > 0 && sum(row.expected, row),
    },
    {
      id: "difference",
      head: t("difference"),
      amount: true,
      always: true,
      cell: (row) => <Difference row={row} locale={locale} />,
    },
  ];
}

function Difference({ row, locale }: { row: RowView; locale: string }) {
  const { charged, expected, told, currency } = row;
  if (told === 0) return <Small as="span">{t("nothing-was-told")}</Small>;
  if (charged === expected) return <Says meaning="proven">{t("none")}</Says>;
  return (
    <Says meaning="waits">
      {t("amount-less", {
        amount: <Amount amount={Math.abs(charged - expected)} currency={currency} locale={locale} />,
        charged: charged > expected ? "yes" : "no",
      })}
    </Says>
  );
}

export default function ChargedPage({ loaderData }: Route.ComponentProps) {
  const { rows, mode, month, months, more, locale } = loaderData;
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <h1>{t("fees")}</h1>
          <p>{t("what-each-account-charged-for")}</p>
        </div>
      </PageHead>
      <Sheet>
        <Stack>
          <Filters label={t("fees")} keep={["mode", "columns"]}>
            <SelectBox
              label={t("month")}
              name="month"
              defaultValue={month}
              choices={months.map((one) => ({ id: one, name: one }))}
            />
          </Filters>
          <DataTable
            label={t("fees")}
            columns={columnsOf(locale)}
            rows={rows}
            rowKey={(row) => `${row.connectionId} ${row.currency}`}
            next={null}
            first
            empty={<Says meaning="none">{t("nothing-was-captured-in-mode", { mode, month })}</Says>}
          />
          {more && <Note meaning="waits">{t("there-were-more-payments-than")}</Note>}
          <Small>{t("where-a-provider-tells-the")}</Small>
        </Stack>
      </Sheet>
    </Stack>
  );
}

import { decimalText } from "#core/money/money";
import type { Mode } from "#core/mode";
import { offersToChoose } from "#server/offers/names";
import {
  isNarrowed,
  listPayments,
  type PaymentFilter,
  type PaymentRow,
  sumPayments,
} from "#server/payments/list";
import type { Runtime } from "#server/runtime";
import { viewsOf } from "#server/views/views";
import { runtimeContext } from "../context";
import { mustOperate } from "../people/session";
import type { Looking } from "../frame/looking";
import { localeOf, mustFindStorefront, mustStandAt } from "../frame/storefront-context";
import { Amount } from "../parts/amount";
import { type Column, DataTable } from "../parts/data-table";
import { Wrong } from "../parts/form";
import { useLive } from "../parts/live";
import { ModePlate, StateMark } from "../parts/marks";
import { Mono, PageHead, Sheet, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { keepView } from "../views/keep-view";
import { SavedViews } from "../views/saved-views";
import { paymentFilter } from "./filter";
import { PaymentFilters } from "./payment-filters";
import { Nothing, Summed } from "./payment-sums";
import type { PaymentsView } from "./payments-view";
import type { Route } from "./+types/payments";
import { t } from "../words/pages/payments";

export const meta: Route.MetaFunction = () => [{ title: t("payments-zahlung") }];

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const now = await mustStandAt(context, params.storefront);
  const { storefront } = now;
  const rt = context.get(runtimeContext);
  const filter = await paymentFilter(rt, now, request);
  const narrowed = isNarrowed(filter);
  const [{ rows, next }, views, summed] = await Promise.all([
    listPayments(rt, storefront.id, filter),
    viewsOf(rt, storefront.id, "payments"),
    narrowed && !filter.query && !filter.after ? sumPayments(rt, storefront.id, filter) : null,
  ]);
  const [currency = "EUR"] = storefront.currencies;
  return {
    looking: {
      mode: filter.mode,
      may: filter.query ? ["test", "live", "both"] : ["test", "live"],
    } satisfies Looking,
    filter,
    narrowed,
    amount: filter.amount === null ? "" : decimalText({ amount: filter.amount, currency }),
    currency,
    offers: offersToChoose(now),
    accounts: now.connections.map(({ connection }) => ({ id: connection.id, name: connection.name })),
    elsewhere: rows.length === 0 && filter.query ? await foundElsewhere(rt, storefront.id, filter) : null,
    next,
    views: views.map(({ id, name, query }) => ({ id, name, query })),
    summed,
    locale: localeOf(storefront),
    rows,
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const storefront = await mustFindStorefront(context, params.storefront);
  return keepView(rt, person, storefront, "payments", await request.formData());
}

/** The other mode, when what was searched for is only there. */
async function foundElsewhere(
  rt: Runtime,
  storefrontId: string,
  filter: PaymentFilter,
): Promise<Mode | null> {
  if (filter.mode === "both") return null;
  const mode = filter.mode === "test" ? "live" : "test";
  const { rows } = await listPayments(rt, storefrontId, { ...filter, mode, after: null });
  return rows.length > 0 ? mode : null;
}

/** Until when a dispute is to be answered, or where it stands when nothing is to be answered any more. */
const answerBy = ({ dispute, disputeDue }: PaymentRow) =>
  dispute === "open" && disputeDue !== null ? <When at={disputeDue} /> : dispute;

function columnsFor({ locale, offers, accounts, filter }: PaymentsView): Column<PaymentRow>[] {
  const offer = new Map(offers.map((one) => [one.id, one]));
  const account = new Map(accounts.map((one) => [one.id, one.name]));
  return [
    {
      id: "order",
      head: t("order"),
      always: true,
      cell: (row) => (
        <>
          <Mono>{row.orderReference}</Mono>
          {row.origin !== "shop" && (
            <Small as="span"> {t("rehearsal", { walk: row.origin === "walk" ? "yes" : "no" })}</Small>
          )}
          {filter.mode === "both" && (
            <>
              {" "}
              <ModePlate mode={row.mode} />
            </>
          )}
        </>
      ),
    },
    { id: "at", head: t("when"), sort: "time", cell: (row) => <When at={row.createdAt} /> },
    {
      id: "state",
      head: t("state"),
      cell: (row) => (
        <>
          <StateMark of={row} />
          {row.lookAt === 1 && <Wrong>{t("needs-a-look")}</Wrong>}
        </>
      ),
    },
    // Whoever looks at what is disputed looks for what is to be answered next.
    ...(filter.state === "disputed"
      ? [{ id: "answer-by", head: t("answer-by"), always: true, cell: answerBy } satisfies Column<PaymentRow>]
      : []),
    { id: "stage", head: t("order-stage"), wide: true, extra: true, cell: (row) => row.stage },
    {
      id: "method",
      head: t("method"),
      wide: true,
      cell: (row) => offer.get(row.offerId)?.name ?? "removed",
    },
    {
      id: "provider",
      head: t("account"),
      wide: true,
      cell: (row) =>
        row.connectionId === null ? t("no-provider") : (account.get(row.connectionId) ?? "disconnected"),
    },
    { id: "with", head: t("paid-with"), wide: true, cell: (row) => row.instrument },
    {
      id: "amount",
      head: t("amount"),
      amount: true,
      always: true,
      sort: "amount",
      cell: (row) => <Amount amount={row.amount} currency={row.currency} locale={locale} />,
    },
    {
      id: "refunded",
      head: t("refunded-title"),
      amount: true,
      wide: true,
      cell: (row) =>
        row.refunded > 0 && <Amount amount={row.refunded} currency={row.currency} locale={locale} />,
    },
  ];
}

export default function Payments({ loaderData, params }: Route.ComponentProps) {
  const { filter, rows, next } = loaderData;
  const at = `/s/${params.storefront}/operate`;
  // The newest page follows what comes in.
  useLive(filter.after === null && filter.query === "", 4_000);
  return (
    <>
      <PageHead>
        <h1>{t("payments")}</h1>
      </PageHead>
      <Sheet>
        <Stack>
          <PaymentFilters view={loaderData} />
          <SavedViews
            views={loaderData.views}
            narrowed={loaderData.narrowed || filter.query !== ""}
            clear={`?mode=${filter.mode}`}
          />
          <DataTable
            label={t("payments")}
            columns={columnsFor(loaderData)}
            rows={rows}
            rowKey={(row) => row.id}
            rowTo={(row) => `${at}/${row.id}`}
            next={next}
            first={filter.after === null}
            csv={`/s/${params.storefront}/operate.csv`}
            footing={loaderData.summed && <Summed view={loaderData} />}
            empty={<Nothing view={loaderData} at={at} />}
          />
        </Stack>
      </Sheet>
    </>
  );
}

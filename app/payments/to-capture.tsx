import { useState } from "react";
import { data, Link, useFetcher } from "react-router";
import { ENDS_SOON } from "#core/findings/payment-findings";
import { modeShown } from "#server/connections/connections";
import { offerNames } from "#server/offers/names";
import { captureMany, MOST_AT_ONCE, toCapture } from "#server/payments/to-capture";
import { runtimeContext } from "../context";
import type { Looking } from "../frame/looking";
import { localeOf, mustFindStorefront, mustStandAt } from "../frame/storefront-context";
import { mustOperate } from "../people/session";
import { Amount } from "../parts/amount";
import { Ask } from "../parts/ask";
import { CheckBox } from "../parts/check-box";
import { type Column, DataTable } from "../parts/data-table";
import { Button } from "../parts/form";
import { useLive } from "../parts/live";
import { Note, Says } from "../parts/marks";
import { Mono, PageHead, Row, Sheet, Small, Stack } from "../parts/sheet";
import { sumsText } from "../parts/sums";
import { When } from "../parts/when";
import { spokenIn } from "../words/spoken.server";
import type { Route } from "./+types/to-capture";
import { t } from "../words/pages/payments";

export const meta: Route.MetaFunction = () => [{ title: t("to-capture-zahlung") }];

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const now = await mustStandAt(context, params.storefront);
  const rt = context.get(runtimeContext);
  const mode = await modeShown(rt, now.storefront.id, new URL(request.url).searchParams.get("mode"));
  const waiting = await toCapture(rt, now.storefront.id, mode);
  const offers = offerNames(now);
  return {
    looking: { mode, may: ["test", "live"] } satisfies Looking,
    mode,
    locale: localeOf(now.storefront),
    form: rt.ids.next("form"),
    full: waiting.length === MOST_AT_ONCE,
    rows: waiting.map(({ id, orderReference, held, currency, heldUntil, createdAt, offerId }) => ({
      ...{ id, orderReference, held, currency, heldUntil, createdAt },
      method: offers.get(offerId) ?? "removed",
      soon: heldUntil !== null && heldUntil - rt.now() < ENDS_SOON,
    })),
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const storefront = await mustFindStorefront(context, params.storefront);
  const form = await request.formData();
  const ids = form.getAll("payment").map(String);
  const once = String(form.get("once") ?? "").slice(0, 60);
  if (once === "") throw data(t("the-form-is-malformed"), { status: 400 });
  if (ids.length === 0) return data({ says: t("choose-what-to-capture"), results: [] }, { status: 422 });
  const results = await captureMany(rt, person.email, storefront.id, ids, once);
  return spokenIn(localeOf(storefront)).spoken({ says: null, results });
}

type View = Route.ComponentProps["loaderData"];
type RowView = View["rows"][number];

export default function ToCapture({ loaderData, params }: Route.ComponentProps) {
  const { rows, locale, mode, form, full } = loaderData;
  const fetcher = useFetcher<typeof action>();
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [asking, setAsking] = useState<string | null>(null);
  const busy = fetcher.state !== "idle";
  useLive(!asking && !busy, 6_000);
  const chosen = rows.filter((one) => !left.has(one.id));
  const toggle = (id: string) => {
    const next = new Set(left);
    if (!next.delete(id)) next.add(id);
    setLeft(next);
  };
  const results = busy ? [] : (fetcher.data?.results ?? []);
  const done = results.filter((one) => one.as === "done").length;
  const words = t("capture-payments-sums", {
    payments: chosen.length,
    sums: sumsText(
      chosen.map((one) => ({ amount: one.held, currency: one.currency })),
      locale,
    ),
  });
  const columns: Column<RowView>[] = [
    {
      id: "chosen",
      head: "",
      always: true,
      cell: (row) => (
        <CheckBox
          label={t("capture-order-order-reference", { orderReference: row.orderReference })}
          checked={!left.has(row.id)}
          onChange={() => toggle(row.id)}
        />
      ),
    },
    {
      id: "order",
      head: t("order"),
      always: true,
      cell: (row) => (
        <Link to={`/s/${params.storefront}/operate/${row.id}`}>
          <Mono>{row.orderReference}</Mono>
        </Link>
      ),
    },
    { id: "method", head: t("method"), wide: true, cell: (row) => row.method },
    { id: "since", head: t("held-since"), wide: true, cell: (row) => <When at={row.createdAt} /> },
    {
      id: "until",
      head: t("ends"),
      always: true,
      cell: (row) =>
        row.heldUntil === null ? (
          <Small as="span">{t("not-said")}</Small>
        ) : (
          <Ends until={row.heldUntil} soon={row.soon} />
        ),
    },
    {
      id: "held",
      head: t("held"),
      amount: true,
      always: true,
      cell: (row) => <Amount amount={row.held} currency={row.currency} locale={locale} />,
    },
  ];
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <h1>{t("to-capture")}</h1>
          <p>{t("money-that-is-held-and")}</p>
        </div>
      </PageHead>
      {results.length > 0 && (
        <Note meaning={done === results.length ? "proven" : "waits"}>
          <Stack $gap={0.3}>
            <strong>{t("done-of-results-captured", { done, results: results.length })}</strong>
            {results
              .filter((one) => one.as !== "done")
              .map((one) => (
                <span key={one.id}>
                  <Link to={`/s/${params.storefront}/operate/${one.id}`}>{one.order}</Link>: {one.says}
                </span>
              ))}
          </Stack>
        </Note>
      )}
      {fetcher.data?.says && !busy && <Note meaning="wrong">{fetcher.data.says}</Note>}
      <Sheet>
        <Stack>
          {rows.length > 0 && (
            <Row>
              <Button
                type="button"
                $kind="main"
                disabled={busy || chosen.length === 0}
                onClick={() => setAsking(form)}
              >
                {busy ? t("asking-the-providers") : chosen.length === 0 ? t("nothing-is-chosen") : words}
              </Button>
              <Button
                type="button"
                $kind="bare"
                onClick={() => setLeft(new Set(left.size === 0 ? rows.map((one) => one.id) : []))}
              >
                {t("choose-all", { noLeft: left.size === 0 ? "yes" : "no" })}
              </Button>
              {full && <Small>{t("the-first-hundred-more-come-when")}</Small>}
            </Row>
          )}
          <DataTable
            label={t("to-capture")}
            columns={columns}
            rows={rows}
            rowKey={(row) => row.id}
            next={null}
            first
            empty={<Says meaning="none">{t("nothing-is-held-in-mode", { mode })}</Says>}
          />
        </Stack>
      </Sheet>
      {asking && (
        <Ask
          title={`${words}?`}
          says={<p>{t("all-that-is-held-of", { mode })}</p>}
          onClose={() => setAsking(null)}
        >
          <Button
            type="button"
            $kind="danger"
            onClick={() => {
              const fields = new FormData();
              fields.set("once", asking);
              for (const one of chosen) fields.append("payment", one.id);
              setAsking(null);
              void fetcher.submit(fields, { method: "post" });
            }}
          >
            {words}
          </Button>
          <Button type="button" onClick={() => setAsking(null)}>
            {t("leave-it")}
          </Button>
        </Ask>
      )}
    </Stack>
  );
}

function Ends({ until, soon }: { until: number; soon: boolean }) {
  return (
    <>
      <When at={until} /> {soon && <Says meaning="waits">{t("soon")}</Says>}
    </>
  );
}

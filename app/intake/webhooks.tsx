import { data, Link, useFetcher, useLocation } from "react-router";
import { connectionsOf, modeShown } from "#server/connections/connections";
import { applicableAgain } from "#server/intake/apply";
import { applyNow, isWebhookResult, listWebhooks } from "#server/intake/list";
import { FORGED } from "#server/database/schema";
import { runtimeContext } from "../context";
import type { Looking } from "../frame/looking";
import { mustFindStorefront } from "../frame/storefront-context";
import { SelectBox } from "../parts/select-box";
import { mustOperate } from "../people/session";
import { CopyValue } from "../parts/copy";
import { AccountFilter } from "../parts/account-filter";
import { type Column, DataTable } from "../parts/data-table";
import { Filters } from "../parts/filters";
import { Button } from "../parts/form";
import { useLive } from "../parts/live";
import { Says } from "../parts/marks";
import { Mono, PageHead, Sheet, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { outcomeWords } from "./outcome-words";
import { spoken } from "../words/spoken.server";
import type { Route } from "./+types/webhooks";
import { t } from "../words/pages/intake";

export const meta: Route.MetaFunction = () => [{ title: t("webhooks-zahlung") }];

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const storefront = await mustFindStorefront(context, params.storefront);
  const search = new URL(request.url).searchParams;
  const rt = context.get(runtimeContext);
  const mode = await modeShown(rt, storefront.id, search.get("mode"));
  const result = search.get("result");
  const filter = {
    connection: search.get("connection") || null,
    result: isWebhookResult(result) ? result : null,
  };
  const [connections, page] = await Promise.all([
    connectionsOf(rt, storefront.id),
    listWebhooks(rt, storefront.id, mode, Number(search.get("after")) || null, filter),
  ]);
  const names = new Map(connections.map(({ connection }) => [connection.id, connection.name]));
  return spoken({
    looking: { mode, may: ["test", "live"] } satisfies Looking,
    filter,
    connections: [...names].map(([id, name]) => ({ id, name })),
    first: search.get("after") === null,
    next: page.next === null ? null : String(page.next),
    rows: page.rows.map(
      ({
        number,
        receivedAt,
        event,
        verdict,
        outcome,
        paymentId,
        order,
        messageId,
        body,
        error,
        connectionId,
      }) => ({
        number,
        error,
        again: verdict === "verified" && applicableAgain.includes(outcome),
        receivedAt,
        event,
        forged: verdict !== "verified" && event === FORGED,
        well: ["applied", "repeated", "ping", "account"].includes(outcome),
        believed: verdict === "verified",
        says: outcomeWords({ verdict, outcome, event }),
        paymentId,
        order,
        messageId,
        body,
        account: names.get(connectionId) ?? "",
      }),
    ),
  });
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt } = mustOperate(context);
  const storefront = await mustFindStorefront(context, params.storefront);
  const number = Number((await request.formData()).get("number"));
  if (!Number.isSafeInteger(number) || !(await applyNow(rt, storefront.id, number)))
    throw data(t("there-is-nothing-to-apply"), { status: 404 });
  return { ok: true };
}

type WebhookView = Route.ComponentProps["loaderData"]["rows"][number];

function ApplyAgain({ number }: { number: number }) {
  const fetcher = useFetcher();
  return (
    <fetcher.Form method="post">
      <Button $kind="bare" name="number" value={number} disabled={fetcher.state !== "idle"}>
        {t("apply-again")}
      </Button>
    </fetcher.Form>
  );
}

const columnsFor = (at: string): Column<WebhookView>[] => [
  { id: "at", head: t("when"), always: true, cell: (row) => <When at={row.receivedAt} /> },
  { id: "account", head: t("account"), cell: (row) => row.account },
  {
    id: "event",
    head: t("event"),
    wide: true,
    cell: (row) => (row.event ? <>“{row.event}”</> : <Small as="span">{t("not-read")}</Small>),
  },
  {
    id: "result",
    head: t("what-became-of-it"),
    always: true,
    cell: (row) => (
      <>
        <Says meaning={row.forged ? "none" : !row.believed ? "wrong" : row.well ? "proven" : "waits"}>
          {row.says}
        </Says>
        {row.error && <Small>{row.error}</Small>}
        {row.again && <ApplyAgain number={row.number} />}
      </>
    ),
  },
  {
    id: "order",
    head: t("order"),
    cell: (row) =>
      row.paymentId && (
        <Link to={`${at}/${row.paymentId}`}>
          <Mono>{row.order}</Mono>
        </Link>
      ),
  },
  {
    id: "message",
    head: t("message"),
    wide: true,
    cell: (row) => row.messageId && <CopyValue value={row.messageId} label={`…${row.messageId.slice(-8)}`} />,
  },
  {
    id: "body",
    head: t("body"),
    wide: true,
    cell: (row) => <CopyValue value={row.body} label={t("copy")} plain />,
  },
];

export default function Webhooks({ loaderData, params }: Route.ComponentProps) {
  const { rows, next, first, filter, connections } = loaderData;
  const { search } = useLocation();
  useLive(first, 3000);
  const at = `/s/${params.storefront}/operate`;
  return (
    <>
      <PageHead>
        <h1>{t("webhooks-received")}</h1>
      </PageHead>
      <Sheet>
        <Stack>
          <Filters label={t("webhooks")} keep={["mode", "columns"]} key={search}>
            <AccountFilter accounts={connections} chosen={filter.connection} />
            <SelectBox
              label={t("what-became-of-it")}
              name="result"
              defaultValue={filter.result ?? ""}
              choices={[
                { id: "", name: t("anything") },
                { id: "well", name: t("applied-ones") },
                { id: "left", name: t("changed-nothing-or-not-yet") },
                { id: "refused", name: t("refused") },
              ]}
            />
          </Filters>
          <DataTable
            label={t("webhooks")}
            columns={columnsFor(at)}
            rows={rows}
            rowKey={(row) => String(row.number)}
            next={next}
            first={first}
            csv={`${at}/webhooks.csv`}
            empty={
              <Small>
                {t("this-side-has-heard-nothing", {
                  connection: filter.connection || filter.result ? "yes" : "no",
                })}
              </Small>
            }
          />
        </Stack>
      </Sheet>
    </>
  );
}

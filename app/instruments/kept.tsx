import { modeShown } from "#server/connections/connections";
import { nameOf } from "#server/instruments/instruments";
import { listKept } from "#server/instruments/list";
import { offerNames } from "#server/offers/names";
import { runtimeContext } from "../context";
import type { Looking } from "../frame/looking";
import { mustStandAt } from "../frame/storefront-context";
import { type Column, DataTable } from "../parts/data-table";
import { Filters } from "../parts/filters";
import { Says } from "../parts/marks";
import { PageHead, Sheet, Small, Stack } from "../parts/sheet";
import { TextBox } from "../parts/text-box";
import { When } from "../parts/when";
import { standOf } from "./stand";
import type { Route } from "./+types/kept";
import { t } from "../words/pages/instruments";

export const meta: Route.MetaFunction = () => [{ title: t("kept-zahlung") }];

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const now = await mustStandAt(context, params.storefront);
  const rt = context.get(runtimeContext);
  const search = new URL(request.url).searchParams;
  const mode = await modeShown(rt, now.storefront.id, search.get("mode"));
  const shopper = (search.get("q") ?? "").trim().slice(0, 64);
  const after = search.get("after");
  const { rows, next } = await listKept(rt, now.storefront.id, { mode, shopper, after });
  const names = offerNames(now);
  return {
    looking: { mode, may: ["test", "live"] } satisfies Looking,
    ...{ mode, shopper, after, next },
    rows: rows.map(({ id, until, usedAt, createdAt, offerId, ...row }) => ({
      ...{ id, name: nameOf(row), shopper: row.shopper, until, usedAt, createdAt },
      ...{ offer: names.get(offerId) ?? "removed", stand: standOf({ state: row.state, until }, rt.now()) },
    })),
  };
}

type View = Route.ComponentProps["loaderData"];

const standWords = { kept: t("kept-within"), over: t("has-ended"), forgotten: t("forgotten") } as const;
const standMeanings = { kept: "proven", over: "wrong", forgotten: "none" } as const;

const columns: Column<View["rows"][number]>[] = [
  { id: "name", head: t("what"), always: true, cell: (row) => row.name },
  { id: "shopper", head: t("shopper"), always: true, cell: (row) => row.shopper },
  { id: "offer", head: t("offer"), cell: (row) => row.offer },
  {
    id: "stand",
    head: t("state"),
    cell: (row) => <Says meaning={standMeanings[row.stand]}>{standWords[row.stand]}</Says>,
  },
  { id: "since", head: t("since"), cell: (row) => <When at={row.createdAt} /> },
  { id: "used", head: t("used-last"), wide: true, cell: (row) => row.usedAt && <When at={row.usedAt} /> },
  { id: "until", head: t("ends"), cell: (row) => row.until && <When at={row.until} /> },
];

/** What shoppers have kept to pay with again: whose, since when, and until when. */
export default function Kept({ loaderData, params }: Route.ComponentProps) {
  const { mode, shopper, after, rows, next } = loaderData;
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <h1>{t("kept")}</h1>
          <p>{t("what-shoppers-agreed-to-have")}</p>
        </div>
      </PageHead>
      <Sheet>
        <Stack>
          <Filters label={t("kept")} keep={["mode", "columns"]}>
            <TextBox label={t("shopper")} name="q" defaultValue={shopper} maxLength={64} />
          </Filters>
          <DataTable
            label={t("kept")}
            columns={columns}
            rows={rows}
            rowKey={(row) => row.id}
            rowTo={(row) => `/s/${params.storefront}/operate/kept/${row.id}`}
            next={next}
            first={after === null}
            empty={
              <Says meaning="none">
                {shopper
                  ? t("nothing-is-kept-of-shopper", { shopper, mode })
                  : t("no-shopper-has-kept-anything", { mode })}
              </Says>
            }
          />
          {rows.length > 0 && <Small>{t("a-shopper-is-looked-for")}</Small>}
        </Stack>
      </Sheet>
    </Stack>
  );
}

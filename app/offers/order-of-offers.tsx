import { ArrowDown, ArrowUp, GripVertical } from "lucide-react";
import { useState } from "react";
import { data, Link, useFetcher } from "react-router";
import { Button as Grip, GridList, GridListItem, useDragAndDrop } from "react-aria-components";
import { styled } from "styled-components";
import { nameOf } from "#server/offers/names";
import { orderOffers } from "#server/offers/offers";
import { USAGE_DAYS, usageOf } from "#server/offers/usage";
import { isOff, runsInLive } from "#server/storefronts/now";
import { runtimeContext } from "../context";
import { mustStandAt } from "../frame/storefront-context";
import { mustOperate } from "../people/session";
import { Says } from "../parts/marks";
import { PageHead, Sheet, Small, Stack } from "../parts/sheet";
import { useInBrowser } from "../parts/when";
import { color } from "../theme/tokens";
import type { Route } from "./+types/order-of-offers";
import { t } from "../words/pages/offers-order";

export const meta: Route.MetaFunction = () => [{ title: t("order-of-offers-zahlung") }];

export async function loader({ params, context }: Route.LoaderArgs) {
  const { inOrder } = await mustStandAt(context, params.storefront);
  const usage = await usageOf(
    context.get(runtimeContext),
    inOrder.map((one) => one.offer.id),
  );
  return {
    days: USAGE_DAYS,
    offers: inOrder.map((one) => ({
      id: one.offer.id,
      name: nameOf(one),
      account: one.way === "provider" ? one.connection.name : t("without-a-provider"),
      to: `/s/${params.storefront}/offer/${one.way === "provider" ? "" : "without/"}${one.offer.id}`,
      live: runsInLive(one) && !isOff(one, "live"),
      chosen: usage.get(one.offer.id) ?? 0,
    })),
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const { storefront } = await mustStandAt(context, params.storefront);
  const ids = (await request.formData()).getAll("offer").map(String);
  if (ids.length === 0) throw data(t("the-form-is-malformed"), { status: 400 });
  const ordered = await orderOffers(rt, person.email, storefront.id, ids);
  if (!ordered.ok) throw data(t("that-cannot-be-done-here"), { status: 409 });
  return { ok: true as const };
}

type View = Route.ComponentProps["loaderData"]["offers"][number];

const Rows = styled.div`
  [role="row"],
  .row {
    display: grid;
    grid-template-columns: 2rem 2rem minmax(0, 1fr) auto auto;
    gap: 0.5rem;
    align-items: center;
    border-bottom: 1px solid ${color.rule};
    padding: 0.3rem 0;
  }
  [data-dragging] {
    opacity: 0.5;
  }
  .react-aria-DropIndicator[data-drop-target] {
    outline: 2px solid ${color.petrol};
  }
  button {
    min-width: 2rem;
    min-height: 2rem;
    border: 1px solid ${color.rule};
    background: none;
    cursor: pointer;
    display: inline-flex;
    align-items: center;
    justify-content: center;
  }
  button[slot="drag"] {
    border-color: transparent;
    cursor: grab;
  }
  button:disabled {
    opacity: 0.35;
    cursor: default;
  }
`;

/** The order in which shoppers see what is offered: dragged, or moved by a press. */
export default function OrderOfOffers({ loaderData }: Route.ComponentProps) {
  const fetcher = useFetcher<typeof action>();
  const [asked, setAsked] = useState<string[] | null>(null);
  const inBrowser = useInBrowser();
  const known = new Map(loaderData.offers.map((one) => [one.id, one]));
  const ids = (fetcher.state === "idle" ? null : asked) ?? [...known.keys()];
  const rows = ids.flatMap((id) => known.get(id) ?? []);
  const order = (next: readonly string[]) => {
    const form = new FormData();
    for (const id of next) form.append("offer", id);
    setAsked([...next]);
    void fetcher.submit(form, { method: "post" });
  };
  const moved = (id: string, by: number) => {
    const from = ids.indexOf(id);
    const next = ids.filter((one) => one !== id);
    next.splice(from + by, 0, id);
    order(next);
  };
  const { dragAndDropHooks } = useDragAndDrop({
    getItems: (keys) => [...keys].map((key) => ({ "text/plain": known.get(String(key))?.name ?? "" })),
    onReorder: ({ keys, target }) => {
      const mine = [...keys].map(String);
      const next = ids.filter((one) => !mine.includes(one));
      const at = next.indexOf(String(target.key)) + (target.dropPosition === "after" ? 1 : 0);
      next.splice(at, 0, ...mine);
      order(next);
    },
  });
  const cells = (row: View, place: number) => (
    <>
      <button
        type="button"
        aria-label={t("move-name-up", { name: row.name })}
        disabled={place === 0}
        onClick={() => moved(row.id, -1)}
      >
        <ArrowUp size={15} aria-hidden />
      </button>
      <span>
        <Link to={row.to}>{row.name}</Link>{" "}
        <Small as="span">
          {t("account-chosen-chosen-times-in", {
            account: row.account,
            chosen: row.chosen,
            days: loaderData.days,
          })}
        </Small>
      </span>
      {row.live ? <Says meaning="proven">{t("live")}</Says> : <Says meaning="none">{t("test-only")}</Says>}
      <button
        type="button"
        aria-label={t("move-name-down", { name: row.name })}
        disabled={place === rows.length - 1}
        onClick={() => moved(row.id, 1)}
      >
        <ArrowDown size={15} aria-hidden />
      </button>
    </>
  );
  return (
    <>
      <PageHead>
        <div>
          <h1>{t("their-order")}</h1>
          <p>{t("shoppers-see-what-is-offered")}</p>
        </div>
      </PageHead>
      <Sheet>
        <Stack>
          {rows.length === 0 && <Small>{t("nothing-is-offered-yet")}</Small>}
          {rows.length > 5 && (
            <Says meaning="waits">{t("rows-are-many-to-choose", { rows: rows.length })}</Says>
          )}
          <Rows>
            {inBrowser ? (
              <GridList
                aria-label={t("offers-in-the-order-that")}
                items={rows.map((row, place) => ({ ...row, place }))}
                dragAndDropHooks={dragAndDropHooks}
                dependencies={[rows.length, fetcher.state]}
              >
                {(row) => (
                  <GridListItem id={row.id} textValue={row.name}>
                    <Grip slot="drag" aria-label={t("drag-name", { name: row.name })}>
                      <GripVertical size={15} aria-hidden />
                    </Grip>
                    {cells(row, row.place)}
                  </GridListItem>
                )}
              </GridList>
            ) : (
              rows.map((row, place) => (
                <div className="row" key={row.id}>
                  <span />
                  {cells(row, place)}
                </div>
              ))
            )}
          </Rows>
          <span role="status" className="quiet">
            {t("the-order-is-kept", { state: fetcher.state === "idle" && asked ? "yes" : "no" })}
          </span>
        </Stack>
      </Sheet>
    </>
  );
}

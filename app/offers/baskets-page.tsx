import { Fragment, useState } from "react";
import { data, Link, useFetcher } from "react-router";
import { styled } from "styled-components";
import { type Basket, type Cell, MOST_BASKETS } from "#core/offers/baskets";
import type { WithheldCode } from "#core/offers/decide";
import { moneyText } from "#core/money/money";
import { nameOfCode } from "#core/places/names";
import { basketsOf, basketTable, dropBasket, keepBasket, proposals } from "#server/offers/baskets";
import { nameOf } from "#server/offers/names";
import { runsInLive } from "#server/storefronts/now";
import { runtimeContext } from "../context";
import { localeOf, mustStandAt } from "../frame/storefront-context";
import { Button } from "../parts/form";
import { Note, Says } from "../parts/marks";
import { PageHead, Row, Sheet, Small, Stack } from "../parts/sheet";
import { mustOperate } from "../people/session";
import { color } from "../theme/tokens";
import { spokenIn } from "../words/spoken.server";
import type { Route } from "./+types/baskets-page";
import { listed } from "../words/listed";
import { t } from "../words/pages/offers-baskets";

export const meta: Route.MetaFunction = () => [{ title: t("baskets-zahlung") }];

export async function loader({ params, context }: Route.LoaderArgs) {
  const now = await mustStandAt(context, params.storefront);
  const rt = context.get(runtimeContext);
  const kept = await basketsOf(rt, now.storefront.id);
  const speaker = spokenIn(localeOf(now.storefront));
  const names = new Set(kept.map(({ basket }) => basket.name));
  const proposed = proposals(now)
    .map(({ basket, says }) => ({ ...basket, name: speaker.say(says).slice(0, 60) }))
    .filter(({ name }) => !names.has(name));
  return speaker.spoken({
    locale: localeOf(now.storefront),
    groups: Object.fromEntries(now.storefront.groups.map(({ id, name }) => [id, name])),
    room: MOST_BASKETS - kept.length,
    offers: now.inOrder.map((one) => ({
      ...{ id: one.offer.id, name: nameOf(one), live: runsInLive(one) },
      to: one.way === "offline" ? `without/${one.offer.id}` : one.offer.id,
    })),
    rows: basketTable(now, kept, rt.now()).map(({ id, basket, working, live }) => ({
      ...{ id, basket },
      working: Object.fromEntries(working),
      live: Object.fromEntries(live),
    })),
    proposed,
  });
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt } = mustOperate(context);
  const { storefront } = await mustStandAt(context, params.storefront);
  const form = await request.formData();
  const { say } = spokenIn(localeOf(storefront));
  if (form.get("press") === "drop") {
    await dropBasket(rt, storefront.id, String(form.get("basket") ?? ""));
    return { ok: true as const, problem: null };
  }
  if (form.get("press") !== "keep") throw data(t("that-cannot-be-done-here"), { status: 400 });
  let given: unknown;
  try {
    given = JSON.parse(String(form.get("baskets")));
  } catch {
    throw data(t("the-form-is-malformed"), { status: 400 });
  }
  for (const one of Array.isArray(given) ? given.slice(0, MOST_BASKETS) : []) {
    const kept = await keepBasket(rt, storefront, one);
    if (!kept.ok)
      return data(
        { ok: false as const, problem: kept.problems.map((each) => say(each)).join(" ") },
        { status: 422 },
      );
  }
  return { ok: true as const, problem: null };
}

/** In a word or two why an offer is withheld; the whole sentence stands below. */
const shortWords: Record<WithheldCode, string> = {
  "switched-off": t("switched-off"),
  "no-keys": t("no-keys"),
  "not-live": t("not-live"),
  "fallen-back": t("fallen-back"),
  "no-domain": t("domain"),
  "no-carrier": t("no-card-offer"),
  "in-trouble": t("in-trouble"),
  country: t("country"),
  "currency-not-offered": t("currency"),
  "currency-not-taken": t("currency"),
  "currency-not-charged": t("currency"),
  "below-least": t("too-little"),
  "above-greatest": t("too-much"),
  "below-minimum": t("too-little"),
  "above-maximum": t("too-much"),
  "not-for-country": t("country"),
  "fee-not-taken": t("fee"),
  "charge-out-of-proportion": t("fee"),
  group: t("group"),
  zone: t("zone"),
  goods: t("goods"),
  delivery: t("delivery"),
  weight: t("weight"),
  time: t("hours"),
  shopper: t("shopper"),
  tries: t("tries"),
  device: t("device"),
  "none-of": t("rules"),
  "no-plan": t("plan"),
};

const Scroller = styled.div`
  overflow-x: auto;
`;
const Matrix = styled.table`
  font-size: 0.93rem;
  th {
    text-align: start;
    font-weight: 600;
    padding: 0.3rem 0.9rem 0.3rem 0;
    vertical-align: bottom;
  }
  thead th {
    border-bottom: 1.5px solid ${color.ink};
    white-space: nowrap;
  }
  th p,
  th span {
    font-weight: 400;
  }
  tbody td,
  tbody th {
    border-bottom: 1px solid ${color.rule};
    padding: 0.3rem 0.9rem 0.3rem 0;
    vertical-align: top;
  }
  .differs {
    outline: 2px solid ${color.brass};
    outline-offset: -2px;
    padding-inline: 0.4rem;
  }
`;
const Whole = styled.ul`
  display: grid;
  gap: 0.3rem;
  padding: 0.3rem 0 0.6rem;
`;

type Loaded = Route.ComponentProps["loaderData"];
type RowView = Loaded["rows"][number];
type CellView = RowView["working"][string];

/** A shopper and a basket in a line. */
function basketWords(
  basket: Omit<Basket, "name">,
  { locale, groups }: Pick<Loaded, "locale" | "groups">,
): string {
  const { total, goods, currency, country, postcode, group } = basket;
  const { kinds, delivery, weight, returning, device, tries } = basket;
  return [
    moneyText({ amount: total, currency }, locale),
    goods < total
      ? t("money-text-of-it-goods", { moneyText: moneyText({ amount: goods, currency }, locale) })
      : "",
    [nameOfCode("region", country), postcode].filter(Boolean).join(" "),
    groups[group] ?? group,
    listed(kinds),
    delivery,
    weight === null ? "" : `${new Intl.NumberFormat(locale).format(weight / 1000)} kg`,
    returning ? t("ordered-before") : "",
    device === "phone" ? t("on-a-phone") : "",
    tries > 0 ? t("tries-refused", { tries }) : "",
  ]
    .filter(Boolean)
    .join(", ");
}

const isShown = (cell: CellView | Cell | undefined) => cell === null;

/** Kept baskets down, offers across: shown, or why not, as being worked on; what live does otherwise is outlined. */
export default function Baskets({ loaderData, params }: Route.ComponentProps) {
  const { rows, offers, proposed, room } = loaderData;
  const [open, setOpen] = useState<string | null>(null);
  const fetcher = useFetcher<typeof action>();
  const differing = rows.reduce((sum, row) => sum + offers.filter((one) => differs(one, row)).length, 0);
  const keep = (all: readonly Basket[]) =>
    void fetcher.submit({ press: "keep", baskets: JSON.stringify(all) }, { method: "post" });
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <h1>{t("baskets")}</h1>
          <p>{t("shoppers-with-their-baskets-that")}</p>
        </div>
        {rows.length > 0 &&
          (differing > 0 ? (
            <Says meaning="waits">{t("differing-cells-differ-in-live", { differing })}</Says>
          ) : (
            <Says meaning="proven">{t("live-does-the-same")}</Says>
          ))}
      </PageHead>
      {fetcher.state === "idle" && fetcher.data?.problem && (
        <Note meaning="wrong">{fetcher.data.problem}</Note>
      )}
      <Sheet>
        <Stack>
          {rows.length === 0 ? (
            <Small>{t("no-basket-is-kept-yet")}</Small>
          ) : offers.length === 0 ? (
            <Small>{t("nothing-is-offered-yet")}</Small>
          ) : (
            <Scroller tabIndex={0} role="region" aria-label={t("what-each-basket-is-offered")}>
              <Matrix>
                <thead>
                  <tr>
                    <th scope="col">{t("basket")}</th>
                    {offers.map((one) => (
                      <th scope="col" key={one.id}>
                        <Link to={`/s/${params.storefront}/offer/${one.to}`}>{one.name}</Link>
                        {!one.live && <Small as="span">{t("not-live")}</Small>}
                      </th>
                    ))}
                    <th scope="col">
                      <span className="quiet">{t("what-can-be-done")}</span>
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {rows.map((row) => (
                    <BasketLine
                      key={row.id}
                      row={row}
                      offers={offers}
                      loaded={loaderData}
                      open={open === row.id}
                      onOpen={() => setOpen(open === row.id ? null : row.id)}
                    />
                  ))}
                </tbody>
              </Matrix>
            </Scroller>
          )}
        </Stack>
      </Sheet>
      {proposed.length > 0 && room > 0 && (
        <Sheet>
          <Stack>
            <Row>
              <h2>{t("worth-keeping")}</h2>
              <Button type="button" onClick={() => keep(proposed.slice(0, room))}>
                {t("keep-all-room", { proposed: proposed.length, room: Math.min(room, proposed.length) })}
              </Button>
            </Row>
            <Small>{t("at-each-side-of-every")}</Small>
            <ul>
              {proposed.map((one) => (
                <li key={one.name}>
                  <Button type="button" $kind="bare" onClick={() => keep([one])}>
                    {t("keep")}
                    <span className="quiet"> {one.name}</span>
                  </Button>{" "}
                  {one.name}: <Small as="span">{basketWords(one, loaderData)}</Small>
                </li>
              ))}
            </ul>
          </Stack>
        </Sheet>
      )}
    </Stack>
  );
}

const differs = ({ id, live }: Loaded["offers"][number], row: RowView): boolean =>
  live && isShown(row.working[id]) !== isShown(row.live[id]);

function BasketLine({
  row,
  offers,
  loaded,
  open,
  onOpen,
}: {
  row: RowView;
  offers: Loaded["offers"];
  loaded: Pick<Loaded, "locale" | "groups">;
  open: boolean;
  onOpen: () => void;
}) {
  const fetcher = useFetcher();
  const withheld = offers.flatMap(({ id, name }) => {
    const because = row.working[id];
    return because ? [{ id, name, because }] : [];
  });
  return (
    <Fragment>
      <tr>
        <th scope="row">
          {row.basket.name}
          <br />
          <Small as="span">{basketWords(row.basket, loaded)}</Small>
        </th>
        {offers.map((one) => (
          <td key={one.id} className={differs(one, row) ? "differs" : undefined}>
            <CellWords cell={row.working[one.id]} />
            {differs(one, row) && (
              <Small>
                {t("in-live-live", {
                  live: isShown(row.live[one.id]) ? t("shown") : shortOf(row.live[one.id]),
                })}
              </Small>
            )}
          </td>
        ))}
        <td>
          <Row>
            {withheld.length > 0 && (
              <Button
                type="button"
                $kind="bare"
                aria-expanded={open}
                aria-label={t("why-not-for-name", { name: row.basket.name })}
                onClick={onOpen}
              >
                {t("why-not")}
              </Button>
            )}
            <Button
              type="button"
              $kind="bare"
              aria-label={t("forget-name", { name: row.basket.name })}
              onClick={() => void fetcher.submit({ press: "drop", basket: row.id }, { method: "post" })}
            >
              {t("forget")}
            </Button>
          </Row>
        </td>
      </tr>
      {open && (
        <tr>
          <td colSpan={offers.length + 2}>
            <Whole>
              {withheld.map(({ id, name, because }) => (
                <li key={id}>
                  <strong>{name}</strong>:{" "}
                  {because.map((one) => (
                    <span key={one.code}>
                      {one.says} <Small as="span">{one.change}</Small>{" "}
                    </span>
                  ))}
                </li>
              ))}
            </Whole>
          </td>
        </tr>
      )}
    </Fragment>
  );
}

const shortOf = (cell: CellView | undefined): string =>
  [...new Set((cell ?? []).map((one) => shortWords[one.code]))].join(", ");

function CellWords({ cell }: { cell: CellView | undefined }) {
  return isShown(cell) ? (
    <Says meaning="proven">{t("shown")}</Says>
  ) : (
    <Small as="span">{shortOf(cell)}</Small>
  );
}

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

export const meta: Route.MetaFunction = () => [{ title: "Baskets · Zahlung" }];

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
  if (form.get("press") !== "keep") throw data("That cannot be done here.", { status: 400 });
  let given: unknown;
  try {
    given = JSON.parse(String(form.get("baskets")));
  } catch {
    throw data("The form is malformed.", { status: 400 });
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
  "switched-off": "switched off",
  "no-keys": "no keys",
  "not-live": "not live",
  "fallen-back": "fallen back",
  "no-domain": "domain",
  "no-carrier": "no card offer",
  "in-trouble": "in trouble",
  country: "country",
  "currency-not-offered": "currency",
  "currency-not-taken": "currency",
  "currency-not-charged": "currency",
  "below-least": "too little",
  "above-greatest": "too much",
  "below-minimum": "too little",
  "above-maximum": "too much",
  "not-for-country": "country",
  "fee-not-taken": "fee",
  "charge-out-of-proportion": "fee",
  group: "group",
  zone: "zone",
  goods: "goods",
  delivery: "delivery",
  weight: "weight",
  time: "hours",
  shopper: "shopper",
  tries: "tries",
  device: "device",
  "none-of": "rules",
  "no-plan": "plan",
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
    goods < total ? `${moneyText({ amount: goods, currency }, locale)} of it goods` : "",
    [nameOfCode("region", country), postcode].filter(Boolean).join(" "),
    groups[group] ?? group,
    kinds.join(" and "),
    delivery,
    weight === null ? "" : `${new Intl.NumberFormat(locale).format(weight / 1000)} kg`,
    returning ? "ordered before" : "",
    device === "phone" ? "on a phone" : "",
    tries > 0 ? `${tries} refused` : "",
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
          <h1>Baskets</h1>
          <p>
            Shoppers with their baskets that are kept here, and what each is offered by the offers as they are
            being worked on. Where live does otherwise, the cell is outlined.
          </p>
        </div>
        {rows.length > 0 &&
          (differing > 0 ? (
            <Says meaning="waits">
              {differing === 1 ? "1 cell differs" : `${differing} cells differ`} in live
            </Says>
          ) : (
            <Says meaning="proven">Live does the same</Says>
          ))}
      </PageHead>
      {fetcher.state === "idle" && fetcher.data?.problem && (
        <Note meaning="wrong">{fetcher.data.problem}</Note>
      )}
      <Sheet>
        <Stack>
          {rows.length === 0 ? (
            <Small>
              No basket is kept yet. Keep what is proposed below, or keep the mirror’s own basket on the sheet
              of an offer.
            </Small>
          ) : offers.length === 0 ? (
            <Small>Nothing is offered yet.</Small>
          ) : (
            <Scroller tabIndex={0} role="region" aria-label="What each basket is offered">
              <Matrix>
                <thead>
                  <tr>
                    <th scope="col">Basket</th>
                    {offers.map((one) => (
                      <th scope="col" key={one.id}>
                        <Link to={`/s/${params.storefront}/offer/${one.to}`}>{one.name}</Link>
                        {!one.live && <Small as="span"> not live</Small>}
                      </th>
                    ))}
                    <th scope="col">
                      <span className="quiet">What can be done</span>
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
              <h2>Worth keeping</h2>
              <Button type="button" onClick={() => keep(proposed.slice(0, room))}>
                Keep {proposed.length === 1 ? "it" : `all ${Math.min(room, proposed.length)}`}
              </Button>
            </Row>
            <Small>At each side of every line that an offer draws.</Small>
            <ul>
              {proposed.map((one) => (
                <li key={one.name}>
                  <Button type="button" $kind="bare" onClick={() => keep([one])}>
                    Keep<span className="quiet"> {one.name}</span>
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
              <Small>in live: {isShown(row.live[one.id]) ? "shown" : shortOf(row.live[one.id])}</Small>
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
                aria-label={`Why not, for ${row.basket.name}`}
                onClick={onOpen}
              >
                Why not?
              </Button>
            )}
            <Button
              type="button"
              $kind="bare"
              aria-label={`Forget ${row.basket.name}`}
              onClick={() => void fetcher.submit({ press: "drop", basket: row.id }, { method: "post" })}
            >
              Forget
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
  return isShown(cell) ? <Says meaning="proven">shown</Says> : <Small as="span">{shortOf(cell)}</Small>;
}

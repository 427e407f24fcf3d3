import { styled } from "styled-components";
import type { MonthCost, setCost } from "#core/costs/fees";
import type { MethodKind } from "#core/profiles/profile";
import { Small, Table } from "../parts/sheet";
import { kindWords, lineWords } from "./cost-words";
import { t } from "../words/pages/costs";

const Scroller = styled.div`
  overflow-x: auto;
`;

/** What the chosen set costs, kind by kind. */
export function SetTable({
  set,
  text,
}: {
  set: ReturnType<typeof setCost>;
  text: (minor: number) => string;
}) {
  return (
    <Scroller tabIndex={0} role="region" aria-label={t("costs-of-the-set")}>
      <Table>
        <thead>
          <tr>
            <th scope="col">{t("paid-by")}</th>
            <th scope="col">{t("through")}</th>
            <th scope="col" className="amount">
              {t("orders")}
            </th>
            <th scope="col" className="amount">
              {t("a-month")}
            </th>
            <th scope="col" className="amount">
              {t("an-order")}
            </th>
          </tr>
        </thead>
        <tbody>
          {set.by.map((one) => (
            <tr key={one.kind}>
              <td>{kindWords[one.kind]}</td>
              <td>
                {one.name}
                {one.ridesOn && t("riding-on-rides-on", { ridesOn: one.ridesOn })}
              </td>
              <td className="amount">{one.cost.orders}</td>
              <td className="amount">{text(one.cost.total)}</td>
              <td className="amount">{text(one.cost.perOrder)}</td>
            </tr>
          ))}
          {set.uncovered.map((kind: MethodKind) => (
            <tr key={kind}>
              <td>{kindWords[kind]}</td>
              <td colSpan={4}>{t("nobody-on-the-list-takes")}</td>
            </tr>
          ))}
          <tr>
            <th scope="row" colSpan={3}>
              {t("together")}
            </th>
            <td className="amount">
              <strong>{text(set.total)}</strong>
            </td>
            <td className="amount">
              <strong>{text(set.perOrder)}</strong>
            </td>
          </tr>
        </tbody>
      </Table>
    </Scroller>
  );
}

/** A share of the orders need not be a whole number of them. */
const timesWords = (times: number) =>
  Number.isInteger(times)
    ? String(times)
    : t("about-times", { times: times < 1 ? times.toFixed(1) : Math.round(times) });

/** What one method costs, in lines one can check by hand. */
export function CostTable({
  name,
  cost,
  text,
}: {
  name: string;
  cost: MonthCost;
  text: (minor: number) => string;
}) {
  return (
    <Scroller tabIndex={0} role="region" aria-label={t("costs-of-name", { name })}>
      <Table>
        <thead>
          <tr>
            <th scope="col">{name}</th>
            <th scope="col" className="amount">
              {t("times")}
            </th>
            <th scope="col" className="amount">
              {t("a-month")}
            </th>
          </tr>
        </thead>
        <tbody>
          {cost.lines.map((line) => (
            <tr key={line.what}>
              <td>{lineWords[line.what]}</td>
              <td className="amount">{line.times === null ? "" : timesWords(line.times)}</td>
              <td className="amount">{text(line.amount)}</td>
            </tr>
          ))}
          {cost.missing.map((what) => (
            <tr key={t("missing-what", { what })}>
              <td>{lineWords[what]}</td>
              <td className="amount" />
              <td className="amount">
                <Small as="span">{t("not-known-in-this-currency")}</Small>
              </td>
            </tr>
          ))}
          <tr>
            <th scope="row">
              {t("for-orders-orders-volume-in", { orders: cost.orders, volume: text(cost.volume) })}
            </th>
            <td className="amount">{t("per-order-an-order", { perOrder: text(cost.perOrder) })}</td>
            <td className="amount">
              <strong>{text(cost.total)}</strong>
            </td>
          </tr>
        </tbody>
      </Table>
    </Scroller>
  );
}

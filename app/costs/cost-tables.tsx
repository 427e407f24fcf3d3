import { styled } from "styled-components";
import type { MonthCost, setCost } from "#core/costs/fees";
import type { MethodKind } from "#core/profiles/profile";
import { Small, Table } from "../parts/sheet";
import { kindWords, lineWords } from "./cost-words";

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
    <Scroller tabIndex={0} role="region" aria-label="Costs of the set">
      <Table>
        <thead>
          <tr>
            <th scope="col">Paid by</th>
            <th scope="col">Through</th>
            <th scope="col" className="amount">
              Orders
            </th>
            <th scope="col" className="amount">
              A month
            </th>
            <th scope="col" className="amount">
              An order
            </th>
          </tr>
        </thead>
        <tbody>
          {set.by.map((one) => (
            <tr key={one.kind}>
              <td>{kindWords[one.kind]}</td>
              <td>
                {one.name}
                {one.ridesOn && `, riding on ${one.ridesOn}`}
              </td>
              <td className="amount">{one.cost.orders}</td>
              <td className="amount">{text(one.cost.total)}</td>
              <td className="amount">{text(one.cost.perOrder)}</td>
            </tr>
          ))}
          {set.uncovered.map((kind: MethodKind) => (
            <tr key={kind}>
              <td>{kindWords[kind]}</td>
              <td colSpan={4}>nobody on the list takes these</td>
            </tr>
          ))}
          <tr>
            <th scope="row" colSpan={3}>
              Together
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
  Number.isInteger(times) ? String(times) : `about ${times < 1 ? times.toFixed(1) : Math.round(times)}`;

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
    <Scroller tabIndex={0} role="region" aria-label={`Costs of ${name}`}>
      <Table>
        <thead>
          <tr>
            <th scope="col">{name}</th>
            <th scope="col" className="amount">
              Times
            </th>
            <th scope="col" className="amount">
              A month
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
            <tr key={`missing ${what}`}>
              <td>{lineWords[what]}</td>
              <td className="amount" />
              <td className="amount">
                <Small as="span">not known in this currency, not counted</Small>
              </td>
            </tr>
          ))}
          <tr>
            <th scope="row">
              For {cost.orders} orders, {text(cost.volume)} in all
            </th>
            <td className="amount">{text(cost.perOrder)} an order</td>
            <td className="amount">
              <strong>{text(cost.total)}</strong>
            </td>
          </tr>
        </tbody>
      </Table>
    </Scroller>
  );
}

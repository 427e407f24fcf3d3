import { Link } from "react-router";
import { nameOfCode } from "#core/places/names";
import type { Order } from "#core/orders/order";
import { Amount } from "../parts/amount";
import { Sheet, Small, Stack, Table } from "../parts/sheet";
import { t } from "../words/pages/payment";

/** What the shop asked to be paid for. */
export function PaymentOrder({
  order,
  choiceFee = 0,
  locale,
  to,
}: {
  order: Order;
  /** What choosing the way of paying added, minor units; below zero it took off. */
  choiceFee?: number;
  locale: string;
  to?: string | null;
}) {
  const sum = (amount: number) => <Amount amount={amount} currency={order.currency} locale={locale} />;
  return (
    <Sheet>
      <Stack>
        <h2>{to ? <Link to={to}>{t("the-order")}</Link> : t("the-order")}</h2>
        <Table>
          <tbody>
            {order.lines.map((line, i) => (
              <tr key={i}>
                <td>
                  {line.quantity} × {line.name}
                </td>
                <td className="amount">{sum(line.total)}</td>
              </tr>
            ))}
            <tr>
              <td>{t("shipping")}</td>
              <td className="amount">{sum(order.shipping)}</td>
            </tr>
            {choiceFee !== 0 && (
              <tr>
                <td>{t("discount-for-the-way-of", { hasChoiceFee: choiceFee > 0 ? "yes" : "no" })}</td>
                <td className="amount">{sum(choiceFee)}</td>
              </tr>
            )}
            <tr>
              <td>
                <strong>{t("total")}</strong>
              </td>
              <td className="amount">
                <strong>{sum(order.total + choiceFee)}</strong>
              </td>
            </tr>
          </tbody>
        </Table>
        <Small>
          {order.email && <>{order.email}, </>}
          {nameOfCode("region", order.country)}, {nameOfCode("language", order.language)}, {order.group}
        </Small>
      </Stack>
    </Sheet>
  );
}

import { Printer } from "lucide-react";
import { redirect } from "react-router";
import { styled } from "styled-components";
import { shopperLocale } from "#core/orders/view";
import type { ReceiptView } from "#core/receipts/view";
import { checkoutByToken } from "#server/checkouts/checkouts";
import { paymentOf } from "#server/payments/record";
import { receiptView } from "#server/receipts/receipt-view";
import { Card, OrderReceipt } from "../checkouts/checkout-view";
import { TransferValues } from "../checkouts/placed";
import { leadsNowhere } from "../checkouts/missing.server";
import { ShopperPage } from "../checkouts/shopper-page";
import { ShopperTrouble, titleOfTrouble } from "../checkouts/shopper-trouble";
import type { CheckoutWords } from "../checkouts/words";
import { wordsFor } from "../checkouts/words.server";
import { runtimeContext } from "../context";
import { Button } from "../parts/form";
import { RichTextView } from "../parts/rich-text-view";
import { Row, Small, Stack } from "../parts/sheet";
import { color, tabular } from "../theme/tokens";
import { type Figure, headOf, paymentFigures } from "./lines";
import type { Route } from "./+types/receipt";

export const meta: Route.MetaFunction = ({ loaderData, error }) => [
  {
    title: loaderData
      ? `${loaderData.words.receipt} ${loaderData.view.order.reference}`
      : titleOfTrouble(error),
  },
  { name: "robots", content: "noindex" },
];

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const checkout = await checkoutByToken(rt, params.token);
  if (!checkout) throw leadsNowhere(request);
  const payment = checkout.activePaymentId ? await paymentOf(rt, checkout.activePaymentId) : null;
  const view = payment && (await receiptView(rt, checkout, payment));
  // While there is nothing to keep, the page that pays says how it stands.
  if (!view) throw redirect(`/pay/${params.token}`);
  return { view, words: wordsFor(view.order.language) };
}

const Figures = styled.dl`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, auto);
  gap: 0.35rem 1rem;
  dt,
  dd {
    overflow-wrap: anywhere;
  }
  dd {
    text-align: end;
    ${tabular}
  }
  dt {
    color: ${color.inkSoft};
  }
`;
const Printed = styled.div`
  @media print {
    button,
    a[href^="http"] {
      display: none;
    }
  }
`;

/** What a shopper keeps of a payment: to look at, to print, or to save as a PDF by printing. */
export default function Receipt({ loaderData }: Route.ComponentProps) {
  const { view, words } = loaderData;
  const { order } = view;
  return (
    <ShopperPage view={view} words={words}>
      <Paid view={view} words={words} />
      <OrderReceipt order={order} words={words} level={2} total={words.orderTotal} />
      {view.paid.amount > 0 && <Small>{words.noInvoice}</Small>}
      <Row className="screen-only">
        <Button type="button" onClick={() => window.print()}>
          <Printer size={16} aria-hidden /> {words.print}
        </Button>
        <Button as="a" href={order.returnAddress} $kind="main">
          {words.toShop}
        </Button>
      </Row>
    </ShopperPage>
  );
}

function Paid({ view, words }: { view: ReceiptView; words: CheckoutWords }) {
  const { title, says } = headOf(view, words);
  const { placed } = view;
  const figures: Figure[] = paymentFigures(view, words);
  return (
    <Card>
      <Stack>
        <h1>{title}</h1>
        {says && <p>{says}</p>}
        {view.own && <p>{view.own}</p>}
        {placed?.instructions && (
          <div>
            <RichTextView text={placed.instructions} level={2} />
          </div>
        )}
        {placed?.transfer && (
          <Printed>
            <TransferValues
              transfer={placed.transfer}
              placed={placed}
              locale={shopperLocale(view.order)}
              words={words}
            />
          </Printed>
        )}
        <Figures>
          {figures.flatMap(([name, value]) => [
            <dt key={`t ${name}`}>{name}</dt>,
            <dd key={`d ${name}`}>
              <bdi>{value}</bdi>
            </dd>,
          ])}
        </Figures>
      </Stack>
    </Card>
  );
}

export const ErrorBoundary = ShopperTrouble;

import { styled } from "styled-components";
import { moneyText, signedMoneyText } from "#core/money/money";
import { askedOf } from "#core/orders/asked";
import { shopperLocale } from "#core/orders/view";
import type { LookView, PictureRef } from "#core/looks/look";
import type { Shown } from "#core/offers/decide";
import type { CheckoutView as View } from "#server/checkouts/view";
import { pictureAddress } from "./picture-address";
import { OfferSign } from "./sign";
import { lookStyle } from "../looks/look-style";
import { color, hatch, tabular } from "../theme/tokens";
import type { CheckoutWords } from "./words";

/** The page a shopper pays on. The same component stands in the shopper's mirror beside the offer's editor. */
export const CheckoutPage = styled.div<{ $test: boolean; $look?: LookView }>`
  ${({ $look }) => $look && lookStyle($look)}
  background-color: ${color.paper};
  ${({ $test }) => $test && `background-image: ${hatch};`}
  min-height: 100svh;
  padding: 1rem 1rem 2.5rem;
  color: ${color.ink};
  font-size: 1rem;
`;
export const Column = styled.div`
  max-width: 33rem;
  margin: 0 auto;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 1rem;
  /* Addresses and long words in what a shop writes never push the page aside. */
  p,
  li,
  label,
  h1,
  h2,
  h3 {
    overflow-wrap: anywhere;
  }
  input {
    max-width: 100%;
  }
`;
const Head = styled.header`
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 1rem;
  font-weight: 700;
  small {
    font-weight: 400;
    color: ${color.inkSoft};
  }
`;
export const Card = styled.section`
  background: ${color.sheet};
  border: 1px solid ${color.rule};
  border-radius: var(--corner, 0);
  padding: 1rem;
`;
const Receipt = styled.dl`
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0.35rem 0;
  dt {
    min-width: 0;
    padding-inline-end: 1rem;
    overflow-wrap: anywhere;
  }
  dd {
    text-align: end;
    white-space: nowrap;
    ${tabular}
  }
  .soft {
    color: ${color.inkSoft};
    font-size: 0.92rem;
  }
  .total {
    border-top: 1.5px solid ${color.ink};
    padding-top: 0.45rem;
    font-weight: 700;
    font-size: 1.15rem;
  }
`;
/** A logo is drawn for paper: where the page is dark it stands on a plate of its own. */
const Logo = styled.img`
  display: block;
  max-width: min(100%, 15rem);
  height: auto;
  max-height: 3rem;
  width: auto;
  background: #fffdf8;
  border-radius: var(--corner, 0);
`;
const Who = styled.span`
  display: flex;
  align-items: center;
  gap: 0.6rem;
  min-width: 0;
`;
const Foot = styled.footer`
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem 1.1rem;
  font-size: 0.92rem;
  color: ${color.inkSoft};
  a {
    color: ${color.ink};
  }
`;
const TestBand = styled.p`
  border: 2px dashed ${color.ink};
  background: ${color.sheet};
  padding: 0.3rem 0.7rem;
  font-weight: 700;
  text-align: center;
`;
const Choice = styled.label<{ $chosen: boolean }>`
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 0.1rem 0.7rem;
  align-items: center;
  padding: 0.75rem 0.8rem;
  border: ${({ $chosen }) => ($chosen ? `2px solid ${color.petrol}` : `1.5px solid ${color.ruleStrong}`)};
  border-radius: var(--corner, 0);
  background: ${({ $chosen }) => ($chosen ? color.petrolSoft : color.sheet)};
  cursor: pointer;
  min-height: 3rem;
  input {
    width: 1.15rem;
    height: 1.15rem;
    margin: 0;
    accent-color: ${color.petrol};
  }
  b,
  span {
    min-width: 0;
    overflow-wrap: anywhere;
  }
  b {
    font-weight: 700;
  }
  > span {
    grid-column: 2 / -1;
    color: ${color.inkSoft};
    font-size: 0.93rem;
  }
`;
const ChoiceEnd = styled.i`
  display: flex;
  flex-wrap: wrap;
  justify-content: flex-end;
  gap: 0.1rem 0.6rem;
  align-items: center;
  font-style: normal;
  white-space: nowrap;
  ${tabular}
`;
const Choices = styled.fieldset`
  border: 0;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 0.5rem;
  min-width: 0;
  legend {
    padding: 0;
    margin-bottom: 0.5rem;
    font-weight: 700;
    font-size: 1.1rem;
  }
`;

const MoreWays = styled.details`
  summary {
    cursor: pointer;
    font-weight: 600;
    min-height: 2.4rem;
    padding-block: 0.5rem;
  }
  > div {
    display: grid;
    gap: 0.5rem;
  }
`;

/** Who sells, and the mark of a test. */
export function CheckoutHead({
  storefront,
  reference,
  mode,
  logo,
  words,
}: Pick<View, "storefront" | "mode"> & {
  reference: string;
  logo: PictureRef | null;
  words: CheckoutWords;
}) {
  return (
    <>
      {mode === "test" && <TestBand>{words.test}</TestBand>}
      <Head>
        <Who>
          {logo && (
            <Logo
              src={pictureAddress(logo)}
              alt={isMark(logo) ? "" : storefront}
              width={logo.width}
              height={logo.height}
            />
          )}
          {(!logo || isMark(logo)) && storefront}
        </Who>
        {reference && (
          <small>
            {words.order} {reference}
          </small>
        )}
      </Head>
    </>
  );
}

/** Whether a logo is a mark, beside which the name is written, and no lettering that says it. */
export const isMark = ({ width, height }: PictureRef): boolean => width < 2 * height;

/** Whom to ask, and what holds: at the foot of each of a shopper's pages. */
export function CheckoutFoot({ look, words }: { look: LookView; words: CheckoutWords }) {
  const { support, privacy, terms } = look;
  if (!support && !privacy && !terms) return null;
  return (
    <Foot>
      {support && <strong>{words.questions}</strong>}
      {support?.email && <a href={`mailto:${support.email}`}>{support.email}</a>}
      {support?.phone && (
        <a href={`tel:${support.phone.replace(/[^+\d]/g, "")}`}>
          <bdi>{support.phone}</bdi>
        </a>
      )}
      {support?.page && <a href={support.page}>{words.helpPage}</a>}
      {terms && (
        <a href={terms.link} target="_blank" rel="noreferrer">
          {words.terms}
        </a>
      )}
      {privacy && (
        <a href={privacy} target="_blank" rel="noreferrer">
          {words.privacy}
        </a>
      )}
    </Foot>
  );
}

/** The order with its sums. */
export function OrderReceipt({
  order,
  words,
  level = 1,
  total = words.total,
}: {
  order: View["order"];
  words: CheckoutWords;
  level?: 1 | 2 | 3;
  /** What the sum is called. */
  total?: string;
}) {
  const text = (amount: number) => moneyText({ amount, currency: order.currency }, shopperLocale(order));
  const Title = `h${level}` as const;
  const { charge = 0 } = order;
  const isPart = order.payNow !== undefined && order.payNow < order.total;
  return (
    <Card>
      <Title className="quiet">{words.yourOrder}</Title>
      <Receipt>
        {order.lines.flatMap((line, i) => [
          <dt key={`t${i}`}>
            {line.quantity !== 1 && `${line.quantity} × `}
            {line.name}
          </dt>,
          <dd key={`d${i}`}>{text(line.total)}</dd>,
        ])}
        <dt className="soft">{words.shipping}</dt>
        <dd className="soft">{text(order.shipping)}</dd>
        {charge !== 0 && <dt className="soft">{charge > 0 ? words.choiceFee : words.choiceDiscount}</dt>}
        {charge !== 0 && <dd className="soft">{text(charge)}</dd>}
        {!order.taxIncluded && <dt className="soft">{words.tax}</dt>}
        {!order.taxIncluded && <dd className="soft">{text(order.tax)}</dd>}
        {isPart && <dt>{words.orderTotal}</dt>}
        {isPart && <dd>{text(order.total)}</dd>}
        <dt className="total">{isPart ? words.nowToPay : total}</dt>
        <dd className="total">{text(askedOf(order) + charge)}</dd>
        {order.taxIncluded && order.tax > 0 && <dt className="soft">{words.taxIncluded}</dt>}
        {order.taxIncluded && order.tax > 0 && <dd className="soft">{text(order.tax)}</dd>}
      </Receipt>
    </Card>
  );
}

/** The offers to choose from, as radio buttons that work without script; those beyond `most` open at a press. */
export function OfferChoices({
  offers,
  order,
  chosen,
  words,
  most,
  name = "offer",
  onChoose,
}: {
  offers: readonly Shown[];
  /** In which currency and way of writing its amounts are told. */
  order: Pick<View["order"], "currency" | "country" | "language">;
  chosen: string | null;
  words: CheckoutWords;
  /** How many are shown at once; zero: all. */
  most: number;
  name?: string;
  onChoose?: (offer: string) => void;
}) {
  // One alone is not worth a press.
  const count = most > 0 && offers.length > most + 1 ? most : offers.length;
  const [shown, more] = [offers.slice(0, count), offers.slice(count)];
  const choice = (offer: Shown) => (
    <Choice key={offer.id} $chosen={offer.id === chosen}>
      <input
        type="radio"
        name={name}
        value={offer.id}
        defaultChecked={offer.id === chosen}
        required
        onChange={() => onChoose?.(offer.id)}
      />
      <b>{offer.label}</b>
      <ChoiceEnd>
        {offer.charge !== 0 && (
          <bdi>
            <span className="quiet">{offer.charge > 0 ? words.choiceFee : words.choiceDiscount} </span>
            {signedMoneyText({ amount: offer.charge, currency: order.currency }, shopperLocale(order))}
          </bdi>
        )}
        <OfferSign sign={offer.sign} />
      </ChoiceEnd>
      {offer.hint && <span>{offer.hint}</span>}
      {offer.help && offer.id === chosen && <span>{offer.help}</span>}
    </Choice>
  );
  return (
    <Choices>
      <legend>{words.howToPay}</legend>
      {shown.map(choice)}
      {more.length > 0 && (
        <MoreWays open={more.some(({ id }) => id === chosen) || undefined}>
          <summary>
            {words.moreWays} ({more.length})
          </summary>
          <div>{more.map(choice)}</div>
        </MoreWays>
      )}
    </Choices>
  );
}

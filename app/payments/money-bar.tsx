import { useId } from "react";
import { styled } from "styled-components";
import { moneyText } from "#core/money/money";
import { color } from "../theme/tokens";
import { t } from "../words/pages/payment";

/** Where a payment's money is, in minor units of its currency. */
export interface MoneyStands {
  currency: string;
  /** What was asked for. */
  amount: number;
  authorised: number;
  captured: number;
  released: number;
  held: number;
  refunded: number;
  refunding: number;
  inDispute: number;
  lost: number;
}

const Whole = styled.figure`
  margin: 0;
  svg {
    display: block;
    width: 100%;
    height: 1.5rem;
    border: 1.5px solid ${color.ink};
  }
`;
const Legend = styled.ul`
  display: flex;
  flex-wrap: wrap;
  gap: 0.35rem 1.3rem;
  margin: 0.5rem 0 0;
  padding: 0;
  list-style: none;
  li {
    display: inline-flex;
    gap: 0.45rem;
    align-items: center;
  }
  svg {
    width: 0.95rem;
    height: 0.95rem;
  }
`;

type Part = { name: string; amount: number; fill: string };

/** The parts that the money is in, as a shop keeps it: what it has first, what is gone last. */
function partsOf(
  { captured, refunded, refunding, inDispute, lost, held, released }: MoneyStands,
  hatched: string,
): Part[] {
  const kept = Math.max(0, captured - refunded - refunding - inDispute - lost);
  return [
    { name: t("captured-and-kept"), amount: kept, fill: color.moss },
    { name: t("held"), amount: held, fill: color.petrol },
    { name: t("in-dispute"), amount: inDispute, fill: color.brass },
    { name: t("on-its-way-back"), amount: refunding, fill: hatched },
    { name: t("refunded"), amount: refunded, fill: color.ruleStrong },
    { name: t("lost-in-a-dispute"), amount: lost, fill: color.madder },
    { name: t("released"), amount: released, fill: color.sunk },
  ].filter((part) => part.amount > 0);
}

/** Where each part of a payment's money is, to scale, with its sums in words. */
export function MoneyBar({ locale, ...stands }: MoneyStands & { locale: string }) {
  const id = useId();
  const pattern = `url(#${id})`;
  const parts = partsOf(stands, pattern);
  const sum = (amount: number) => moneyText({ amount, currency: stands.currency }, locale);
  const whole = Math.max(
    stands.amount,
    parts.reduce((total, part) => total + part.amount, 0),
  );
  const beginnings = parts.map((_, i) => parts.slice(0, i).reduce((total, part) => total + part.amount, 0));
  return (
    <Whole>
      <svg viewBox="0 0 1000 24" preserveAspectRatio="none" aria-hidden="true">
        <defs>
          <pattern id={id} width="8" height="8" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <rect width="8" height="8" fill={color.sheet} />
            <rect width="3" height="8" fill={color.ruleStrong} />
          </pattern>
        </defs>
        <rect width="1000" height="24" fill={color.sheet} />
        {parts.map((part, i) => (
          <rect
            key={part.name}
            x={(1000 * (beginnings[i] ?? 0)) / whole}
            width={(1000 * part.amount) / whole}
            height="24"
            fill={part.fill}
          />
        ))}
      </svg>
      <Legend as={parts.length > 0 ? "ul" : "p"}>
        {parts.length === 0 && t("no-money-has-moved-of", { amount: sum(stands.amount) })}
        {parts.map((part) => (
          <li key={part.name}>
            <svg viewBox="0 0 10 10" aria-hidden="true">
              <rect x="0.5" y="0.5" width="9" height="9" fill={part.fill} stroke={color.ink} />
            </svg>
            <span>
              {sum(part.amount)} {part.name}
            </span>
          </li>
        ))}
      </Legend>
    </Whole>
  );
}

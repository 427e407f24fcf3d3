import { styled } from "styled-components";
import { type Money, moneyText } from "#core/money/money";
import { tabular } from "../theme/tokens";

const Figures = styled.span`
  white-space: nowrap;
  ${tabular}
`;

/** An amount with its currency, in the storefront's way of writing. */
export function Amount({ amount, currency, locale }: Money & { locale: string }) {
  return <Figures>{moneyText({ amount, currency }, locale)}</Figures>;
}

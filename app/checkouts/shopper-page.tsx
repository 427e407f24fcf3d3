import type { ReactNode } from "react";
import type { CheckoutView } from "#server/checkouts/view";
import { lightOf } from "../looks/look-style";
import { CheckoutFoot, CheckoutHead, CheckoutPage, Column } from "./checkout-view";
import { ScriptFont } from "./script-font";
import { type CheckoutWords, directionOf } from "./words";

/** A page for shoppers in the shop's look and their language: who sells above, whom to ask and what holds below. */
export function ShopperPage({
  view: { storefront, look, mode, order },
  words,
  children,
}: {
  view: Pick<CheckoutView, "storefront" | "look" | "mode" | "order">;
  words: CheckoutWords;
  children: ReactNode;
}) {
  return (
    <CheckoutPage
      $test={mode === "test"}
      $look={look}
      data-theme={lightOf(look)}
      as="main"
      lang={order.language}
      dir={directionOf(order.language)}
    >
      <ScriptFont language={order.language} face={look.face} />
      <Column>
        <CheckoutHead
          storefront={storefront}
          reference={order.reference}
          mode={mode}
          logo={look.logo}
          words={words}
        />
        {children}
        <CheckoutFoot look={look} words={words} />
      </Column>
    </CheckoutPage>
  );
}

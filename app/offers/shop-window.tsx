import { AppWindow } from "lucide-react";
import { type PropsWithChildren, type ReactNode, useState } from "react";
import { Dialog, Heading, Modal, ModalOverlay } from "react-aria-components";
import { styled } from "styled-components";
import { type Outcome, outcomes } from "#core/offers/afterwards";
import type { LookView } from "#core/looks/look";
import { Card, CheckoutFoot, CheckoutHead, CheckoutPage, Column } from "../checkouts/checkout-view";
import { outcomeWords } from "../checkouts/outcomes";
import { ScriptFont } from "../checkouts/script-font";
import { type CheckoutWords, directionOf } from "../checkouts/words";
import { lightOf } from "../looks/look-style";
import { Button } from "../parts/form";
import { Note } from "../parts/marks";
import { SelectBox } from "../parts/select-box";
import { Row, Stack } from "../parts/sheet";
import { color } from "../theme/tokens";
import { outcomeNames } from "./outcome-names";
import { t } from "../words/pages/offers";

const Over = styled(ModalOverlay)`
  position: fixed;
  inset: 0;
  display: grid;
  padding: 1.2rem;
  background: rgb(0 0 0 / 0.45);
  z-index: 20;
`;
const Box = styled(Modal)`
  display: grid;
  min-height: 0;
  background: ${color.sheet};
  border: 2px solid ${color.ink};
  [role="dialog"] {
    display: grid;
    grid-template-rows: auto minmax(0, 1fr);
    gap: 0.8rem;
    padding: 1rem 1.2rem;
    min-height: 0;
    outline: none;
  }
`;
const Panes = styled.div`
  display: grid;
  grid-template-columns: 390px minmax(0, 1fr);
  gap: 1.2rem;
  min-height: 0;
  @media (max-width: 60rem) {
    grid-template-columns: minmax(0, 1fr);
    overflow: auto;
  }
`;
const Pane = styled.div`
  border: 2px solid ${color.ink};
  border-width: 2px 2px 10px;
  overflow: auto;
  min-height: 12rem;
`;

type Moment = "product" | "basket" | "choice" | Outcome;

/** What the order that is looked at is called. */
export const REFERENCE = "1042";

/** Whose page it is, in which language, and how it looks. */
interface Seen {
  storefront: string;
  language: string;
  look: LookView;
  words: CheckoutWords;
}

/** A shopper's page with something to look at in it. */
export function ShopperFrame({ storefront, language, look, words, children }: PropsWithChildren<Seen>) {
  return (
    <CheckoutPage $test $look={look} data-theme={lightOf(look)} lang={language} dir={directionOf(language)}>
      <Column>
        <CheckoutHead
          storefront={storefront}
          reference={REFERENCE}
          mode="test"
          logo={look.logo}
          words={words}
        />
        {children}
        <CheckoutFoot look={look} words={words} />
      </Column>
    </CheckoutPage>
  );
}

/** A shopper's page, at a phone's width and at a desk's, at the moment of choosing and after each outcome. */
export function ShopWindow({
  seen,
  receipt,
  choice,
  shopPage,
  own,
}: {
  seen: Seen;
  /** The order with its sums, and the ways of paying; drawn once for each pane. */
  receipt: ReactNode;
  choice: (pane: string) => ReactNode;
  /** A page of the shop before its checkout. */
  shopPage: (page: "product" | "basket") => ReactNode;
  /** What the shop itself says after an outcome. */
  own: (outcome: Outcome) => string | null;
}) {
  const [open, setOpen] = useState(false);
  const [moment, setMoment] = useState<Moment>("choice");
  const pane = (name: string, label: string) => (
    <Pane tabIndex={0} role="region" aria-label={label}>
      {moment === "product" || moment === "basket" ? (
        shopPage(moment)
      ) : (
        <ShopperFrame {...seen}>
          {receipt}
          {moment === "choice" ? (
            choice(name)
          ) : (
            <After outcome={moment} own={own(moment)} words={seen.words} />
          )}
        </ShopperFrame>
      )}
    </Pane>
  );
  return (
    <>
      <Button type="button" onClick={() => setOpen(true)}>
        {t("phone-and-desk")} <AppWindow size={14} aria-hidden />
      </Button>
      <Over isOpen={open} isDismissable onOpenChange={setOpen}>
        <Box>
          <Dialog>
            <Row $align="end">
              <Heading slot="title">{t("what-the-shopper-sees")}</Heading>
              <SelectBox
                label={t("moment")}
                value={moment}
                onChange={(chosen) => setMoment(chosen as Moment)}
                choices={[
                  { id: "product", name: t("on-a-products-page") },
                  { id: "basket", name: t("in-the-basket") },
                  { id: "choice", name: t("when-the-shopper-chooses") },
                  ...outcomes.map((one) => ({ id: one, name: outcomeNames[one] })),
                ]}
              />
              <Button type="button" onClick={() => setOpen(false)}>
                {t("close")}
              </Button>
            </Row>
            <ScriptFont language={seen.language} face={seen.look.face} />
            <Panes>
              {pane("phone", t("on-a-phone"))}
              {pane("desk", t("on-a-desk"))}
            </Panes>
          </Dialog>
        </Box>
      </Over>
    </>
  );
}

/** What stands there after an outcome: what is said anyway, and the shop's own words. */
function After({ outcome, own, words }: { outcome: Outcome; own: string | null; words: CheckoutWords }) {
  const { title, says } = outcomeWords(outcome, words);
  const again = outcome === "declined" || outcome === "failed";
  return (
    <Card>
      <Stack>
        {again ? (
          <Note meaning="wrong">
            {says} {own} {words.keep}
          </Note>
        ) : (
          <>
            <h3>{title}</h3>
            {own && <p>{own}</p>}
            <p>{says}</p>
          </>
        )}
      </Stack>
    </Card>
  );
}

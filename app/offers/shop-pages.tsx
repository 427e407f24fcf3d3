import { useEffect, useRef } from "react";
import { useFetcher } from "react-router";
import { styled } from "styled-components";
import type { ButtonPlace, ButtonSettings } from "#core/buttons/button";
import type { Candidate, Shown } from "#core/offers/decide";
import { type Money, moneyText } from "#core/money/money";
import type { NoticePlace, NoticeView } from "#core/offers/notices";
import { Small, Stack } from "../parts/sheet";
import { color, tabular } from "../theme/tokens";
import { ButtonLooks } from "./button-looks";
import type { loader as buttonsAsked } from "./buttons-asked";
import type { loader } from "./notices-asked";
import { t } from "../words/pages/offers";

/** A page of the shop as it is drawn here: what only the shop knows of it is left as blank bars. */
const Page = styled.div`
  display: grid;
  gap: 0.8rem;
  align-content: start;
  min-height: 100%;
  padding: 1rem;
  background: ${color.sheet};
`;
const Bar = styled.div<{ $wide: number }>`
  height: 0.8rem;
  width: ${({ $wide }) => $wide}%;
  background: ${color.sunk};
`;
const Picture = styled.div`
  height: 9rem;
  background: ${color.sunk};
`;
const Price = styled.p`
  font-size: 1.4rem;
  font-weight: 700;
  ${tabular}
`;
const Notice = styled.div`
  zahlung-notice > * {
    display: block;
  }
  zahlung-notice > small {
    font-size: 0.86rem;
  }
`;

/** Of a basket that is looked at: what it comes to, who looks at it, and what they are shown of offers that tell of instalments. */
export interface Told {
  storefrontId: string;
  total: Money;
  country: string;
  language: string;
  locale: string;
  offers: readonly Pick<Shown, "id" | "label" | "charge">[];
  /** Those that stand there as a button, and how. */
  buttons: readonly { id: string; settings: ButtonSettings }[];
}

/** Which of the offers that are shown stand on a page as a button. */
export const buttonsOn = (
  place: ButtonPlace,
  candidates: readonly Candidate[],
  shown: readonly Shown[],
): Told["buttons"] =>
  shown.flatMap(({ id }) => {
    const settings = candidates.find((one) => one.id === id)?.document.button;
    return settings?.places.includes(place) ? [{ id, settings }] : [];
  });

/** Which of the offers that are shown tell of their instalments on a page. */
export const tellingOn = (
  place: NoticePlace,
  candidates: readonly Candidate[],
  shown: readonly Shown[],
): Shown[] =>
  shown.filter(({ id }) => candidates.find((one) => one.id === id)?.document.notices?.includes(place));

/** A page of the shop with the notices that it would show, drawn by the very script that shops use. */
export function ShopPage({ page, told }: { page: "product" | "basket"; told: Told }) {
  const { total, locale } = told;
  return (
    <Page>
      {page === "product" ? (
        <>
          <Picture />
          <Bar $wide={70} />
          <Bar $wide={45} />
        </>
      ) : (
        <>
          <Bar $wide={80} />
          <Bar $wide={65} />
          <Bar $wide={72} />
        </>
      )}
      <Price>{moneyText(total, locale)}</Price>
      <Buttons told={told} />
      {(told.offers.length > 0 || told.buttons.length === 0) && <Notices told={told} />}
    </Page>
  );
}

function Buttons({ told: { storefrontId, language, buttons } }: { told: Told }) {
  const { data, load } = useFetcher<typeof buttonsAsked>();
  const query = new URLSearchParams({ language });
  for (const { id } of buttons) query.append("offer", id);
  const address = buttons.length > 0 ? `/s/${storefrontId}/offer/buttons?${query}` : null;
  useEffect(() => {
    if (address) void load(address);
  }, [address, load]);
  return buttons.map(({ id, settings }) => {
    const facts = data?.buttons.find(({ offer }) => offer === id);
    return (
      facts && (
        <ButtonLooks key={id} settings={settings} terms={facts.terms} text={facts.texts[settings.label]} />
      )
    );
  });
}

function Notices({ told: { storefrontId, total, country, language, offers } }: { told: Told }) {
  const { data, load, state } = useFetcher<typeof loader>();
  // One amount is asked about at a time; what a fee adds differs from offer to offer, and most have none.
  const query = new URLSearchParams({
    amount: String(total.amount + (offers[0]?.charge ?? 0)),
    ...{ currency: total.currency, country, language },
  });
  for (const { id, label } of offers) {
    query.append("offer", id);
    query.append("label", label);
  }
  const address = offers.length > 0 ? `/s/${storefrontId}/offer/notices?${query}` : null;
  useEffect(() => {
    if (address) void load(address);
  }, [address, load]);
  if (offers.length === 0) return <Small>{t("nothing-is-told-of-instalments")}</Small>;
  const notices = data?.notices ?? [];
  if (notices.length === 0)
    return (
      <Small role="status">
        {t("the-provider-quotes-nothing-for", { state: state === "idle" && data ? "yes" : "no" })}
      </Small>
    );
  return (
    <Stack $gap={0.6}>
      {notices.map((one) => (
        <NoticeHere key={one.offer} view={one} />
      ))}
    </Stack>
  );
}

function NoticeHere({ view }: { view: NoticeView }) {
  const place = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const here = place.current;
    if (!here) return;
    let gone = false;
    void import("../embed/elements").then(({ NoticeElement }) => {
      if (gone) return;
      const element = new NoticeElement();
      element.view = view;
      here.replaceChildren(element);
    });
    return () => {
      gone = true;
      here.replaceChildren();
    };
  }, [view]);
  return <Notice ref={place} />;
}

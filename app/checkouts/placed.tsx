import { Check, Copy } from "lucide-react";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { styled } from "styled-components";
import { moneyText } from "#core/money/money";
import { dayText, shopperLocale } from "#core/orders/view";
import type { PlacedScene, Transfer } from "#core/ways/offline/placed";
import type { CheckoutView as View } from "#server/checkouts/view";
import { Button } from "../parts/form";
import { useLive } from "../parts/live";
import { RichTextView } from "../parts/rich-text-view";
import { Row, Small, Stack } from "../parts/sheet";
import { color } from "../theme/tokens";
import { Card } from "./checkout-view";
import { Slip } from "./slip";
import { OtherWay, QrCode } from "./scenes";
import type { CheckoutWords } from "./words";

const Values = styled.dl`
  display: grid;
  gap: 0.15rem;
  border-block: 1px solid ${color.rule};
  padding-block: 0.5rem;
  dt {
    color: ${color.inkSoft};
    font-size: 0.86rem;
  }
  dd {
    display: flex;
    justify-content: space-between;
    align-items: center;
    gap: 0.6rem;
    overflow-wrap: anywhere;
    font-variant-numeric: tabular-nums;
    font-weight: 600;
  }
`;
const Press = styled.button`
  display: inline-flex;
  gap: 0.35rem;
  align-items: center;
  min-height: 1.8rem;
  padding: 0 0.4rem;
  border: 1px solid ${color.rule};
  background: none;
  cursor: pointer;
  font-size: 0.84rem;
`;

/** The order is placed without a provider: what the shop wants of the shopper now, and what goes on a transfer. */
export function Placed({
  scene,
  order,
  says = null,
  words,
}: {
  scene: PlacedScene;
  order: View["order"];
  /** What became of what was sent in just now. */
  says?: string | null;
  words: CheckoutWords;
}) {
  useLive(true, 10_000);
  const locale = shopperLocale(order);
  return (
    <Card role="status">
      <Stack>
        <h2>{words.placed}</h2>
        {scene.instructions && (
          <div>
            <RichTextView text={scene.instructions} level={3} />
          </div>
        )}
        {scene.transfer && (
          <TransferValues transfer={scene.transfer} placed={scene} locale={locale} words={words} />
        )}
        {scene.phone && (
          <Values>
            <dt>{words.payToPhone}</dt>
            <dd>
              <bdi>{scene.phone}</bdi>
              <CopyPress of={words.payToPhone} value={scene.phone.replace(/[^+\d]/g, "")} words={words} />
            </dd>
          </Values>
        )}
        {scene.slip && <Slip slip={scene.slip} says={says} words={words} />}
        <Row>
          <Button as="a" href={order.returnAddress} $kind="main">
            {words.toShop}
          </Button>
          <Link to="receipt">{words.print}</Link>
        </Row>
        <OtherWay words={words} />
      </Stack>
    </Card>
  );
}

/** What goes on a transfer, each value to be copied, and the code that a banking app reads. */
export function TransferValues({
  transfer,
  placed: { left, due },
  locale,
  words,
}: {
  transfer: Transfer;
  placed: Pick<PlacedScene, "left" | "due">;
  locale: string;
  words: CheckoutWords;
}) {
  const { holder, iban, bic, bank, reference, code } = transfer;
  const values: [string, string, string?][] = [
    [words.holder, holder],
    ["IBAN", iban, iban.replace(/\s/g, "")],
    ["BIC", bic],
    [words.bankName, bank],
    [words.transferReference, reference],
    [words.amount, moneyText(left, locale)],
  ];
  return (
    <>
      <Values>
        {values
          .filter(([, value]) => value !== "")
          .flatMap(([name, value, copied = value]) => [
            <dt key={`t ${name}`}>{name}</dt>,
            <dd key={`d ${name}`}>
              <bdi>{value}</bdi>
              <CopyPress of={name} value={copied} words={words} />
            </dd>,
          ])}
        {due !== null && <dt>{words.payBy}</dt>}
        {due !== null && <dd>{dayText(due, locale)}</dd>}
      </Values>
      {code && (
        <Stack $gap={0.4}>
          <Small>{words.scanTransfer}</Small>
          <QrCode code={code} label={words.scanTransfer} />
        </Stack>
      )}
    </>
  );
}

/** Copies one value. Without scripts it does nothing, and the value stands beside it. */
function CopyPress({ of, value, words }: { of: string; value: string; words: CheckoutWords }) {
  const [copied, setCopied] = useState(false);
  useEffect(() => {
    if (!copied) return;
    const timer = setTimeout(() => setCopied(false), 1_600);
    return () => clearTimeout(timer);
  }, [copied]);
  return (
    <Press
      type="button"
      aria-label={`${words.copy}: ${of}`}
      onClick={() => void navigator.clipboard.writeText(value).then(() => setCopied(true))}
    >
      {copied ? <Check size={14} aria-hidden /> : <Copy size={14} aria-hidden />}
      <span aria-live="polite">{copied ? words.copied : words.copy}</span>
    </Press>
  );
}

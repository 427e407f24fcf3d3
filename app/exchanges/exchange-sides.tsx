import { Link } from "react-router";
import { styled } from "styled-components";
import type { HarMessage } from "#core/exchanges/har";
import { CopyValue } from "../parts/copy";
import { Mono, Row, Small, Stack } from "../parts/sheet";
import { color } from "../theme/tokens";
import { t } from "../words/pages/exchanges";

const Sides = styled.div`
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 1rem;
  @media (max-width: 55rem) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
const Text = styled.pre`
  margin: 0.3rem 0 0;
  padding: 0.6rem;
  background: ${color.sunk};
  font-family: var(--mono);
  font-size: 0.82rem;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
  max-height: 24rem;
  overflow-y: auto;
`;

/** One exchange opened: what was asked and what was answered, and all of it to copy for the provider's support. */
export function ExchangeSides({
  request,
  response,
  bundle,
  payment,
}: {
  request: HarMessage | null;
  response: HarMessage | null;
  bundle: string;
  payment: { to: string; order: string } | null;
}) {
  return (
    <Stack $gap={0.6}>
      <Row $gap={1}>
        <CopyValue value={bundle} label={t("copy-for-the-providers-support")} plain />
        {payment && <Link to={payment.to}>{t("the-payment-of-order", { order: payment.order })}</Link>}
      </Row>
      <Sides>
        <Message title={t("asked")} message={request} />
        <Message title={t("answered")} message={response} />
      </Sides>
    </Stack>
  );
}

function Message({ title, message }: { title: string; message: HarMessage | null }) {
  if (!message)
    return (
      <div>
        <strong>{title}</strong>
        <Small>{t("nothing")}</Small>
      </div>
    );
  const head = message.url ? `${message.method ?? ""} ${message.url}` : String(message.status ?? "");
  const headers = Object.entries(message.headers).map(([name, value]) => `${name}: ${value}`);
  return (
    <div>
      <strong>{title}</strong> <Mono>{head}</Mono>
      <Text tabIndex={0}>{[...headers, "", message.body].join("\n")}</Text>
    </div>
  );
}

import { Body } from "@react-email/body";
import { Container } from "@react-email/container";
import { Head } from "@react-email/head";
import { Heading } from "@react-email/heading";
import { Html } from "@react-email/html";
import { Link } from "@react-email/link";
import { render } from "@react-email/render";
import { Text } from "@react-email/text";
import { moneyText } from "#core/money/money";
import { dayText, shopperLocale } from "#core/orders/view";
import type { ReceiptLetter } from "#core/receipts/view";
import { standing } from "#core/looks/look";
import type { AskingView } from "#core/subscriptions/asking";
import { directionOf } from "../checkouts/words";
import { wordsFor } from "../checkouts/words.server";

/** Writes to a shopper whose subscription could not be charged, or soon cannot be, in their language. */
export async function writeAsking(view: AskingView): Promise<ReceiptLetter> {
  const { storefront, look, mode, language, name, address, ends } = view;
  const words = wordsFor(language);
  const locale = shopperLocale(view);
  const sum = moneyText(view.sum, locale);
  const filled = (text: string) =>
    text
      .replace("{shop}", storefront)
      .replace("{name}", name)
      .replace("{sum}", sum)
      .replace("{instrument}", ends ?? "")
      .replace("{day}", dayText(view.dueAt, locale, view.timeZone));
  const test = mode === "test" ? `${words.test}: ` : "";
  const [title, says, press] =
    ends === null
      ? [filled(words.askSubject), filled(words.askSays), filled(words.askPress)]
      : [filled(words.endsSubject), filled(words.endsSays), filled(words.endsPress)];
  const order = `${words.order} ${view.order}`;
  const support = look.support
    ? `${words.questions} ${[look.support.email, look.support.phone].filter(Boolean).join(", ")}`
    : "";
  const { ink, soft, sheet } = standing.light;
  const { light } = look.tones;
  return {
    subject: `${test}${title}`,
    text: [title, order, says, `${press}: ${address}`, support].filter(Boolean).join("\n\n"),
    html: await render(
      <Html lang={language} dir={directionOf(language)}>
        <Head />
        <Body style={{ background: light.paper, color: ink, margin: 0 }}>
          <Container style={{ background: sheet, padding: "24px", margin: "24px auto", maxWidth: "34rem" }}>
            {test && <Text style={{ fontWeight: 700 }}>{words.test}</Text>}
            <Text style={{ fontWeight: 700, margin: 0 }}>{storefront}</Text>
            <Heading as="h1" style={{ fontSize: "22px", margin: "16px 0 4px" }}>
              {title}
            </Heading>
            <Text style={{ margin: "0 0 12px", color: soft }}>{order}</Text>
            <Text>{says}</Text>
            <Text>
              <Link href={address} style={{ color: light.accent, fontWeight: 700 }}>
                {press}
              </Link>
            </Text>
            {support && <Text style={{ fontSize: "13px" }}>{support}</Text>}
          </Container>
        </Body>
      </Html>,
    ),
  };
}

import { Body } from "@react-email/body";
import { Column } from "@react-email/column";
import { Container } from "@react-email/container";
import { Head } from "@react-email/head";
import { Heading } from "@react-email/heading";
import { Hr } from "@react-email/hr";
import { Html } from "@react-email/html";
import { Img } from "@react-email/img";
import { Link } from "@react-email/link";
import { render } from "@react-email/render";
import { Row } from "@react-email/row";
import { Section } from "@react-email/section";
import { Text } from "@react-email/text";
import type { ReceiptLetter, ReceiptView } from "#core/receipts/view";
import { standing } from "#core/looks/look";
import { plainText } from "#core/rich-text";
import { isMark } from "../checkouts/checkout-view";
import { pictureAddress } from "../checkouts/picture-address";
import { type CheckoutWords, directionOf } from "../checkouts/words";
import { wordsFor } from "../checkouts/words.server";
import { RichTextView } from "../parts/rich-text-view";
import { type Figure, headOf, orderFigures, paymentFigures, transferFigures } from "./lines";

const faces = {
  plain: "Helvetica, Arial, sans-serif",
  serif: "Georgia, serif",
  device: "system-ui, Helvetica, Arial, sans-serif",
};
const { ink, soft, sheet } = standing.light;

/** Figures one below the other. */
function Figures({ figures, end }: { figures: readonly Figure[]; end: "left" | "right" }) {
  return (
    <Section>
      {figures.map(([name, value], i) => (
        <Row key={i}>
          <Column style={{ padding: "3px 0", color: soft, verticalAlign: "top" }}>{name}</Column>
          <Column align={end} style={{ padding: "3px 0", verticalAlign: "top" }}>
            <bdi>{value}</bdi>
          </Column>
        </Row>
      ))}
    </Section>
  );
}

function Letter({ view, words }: { view: ReceiptView; words: CheckoutWords }) {
  const { look, storefront, order, placed, mode } = view;
  const { light } = look.tones;
  const direction = directionOf(order.language);
  const end = direction === "rtl" ? "left" : "right";
  const { title, says } = headOf(view, words);
  const transfer = transferFigures(view, words);
  const link = { color: light.accent };
  return (
    <Html lang={order.language} dir={direction}>
      <Head />
      <Body style={{ background: light.paper, color: ink, fontFamily: faces[look.face], margin: 0 }}>
        <Container style={{ background: sheet, padding: "24px", margin: "24px auto", maxWidth: "34rem" }}>
          {mode === "test" && <Text style={{ fontWeight: 700 }}>{words.test}</Text>}
          {look.logo && (
            <Img
              src={`${view.origin}${pictureAddress(look.logo)}`}
              alt={isMark(look.logo) ? "" : storefront}
              width={Math.round((look.logo.width * 48) / look.logo.height)}
              height={48}
            />
          )}
          {(!look.logo || isMark(look.logo)) && (
            <Text style={{ fontWeight: 700, margin: 0 }}>{storefront}</Text>
          )}
          <Heading as="h1" style={{ fontSize: "22px", margin: "16px 0 4px" }}>
            {title}
          </Heading>
          <Text style={{ margin: "0 0 12px", color: soft }}>
            {words.order} {order.reference}
          </Text>
          {says && <Text>{says}</Text>}
          {view.own && <Text>{view.own}</Text>}
          {placed?.instructions && <RichTextView text={placed.instructions} level={2} />}
          {transfer.length > 0 && <Figures figures={transfer} end={end} />}
          <Hr />
          <Figures figures={orderFigures(view, words)} end={end} />
          <Hr />
          <Figures figures={paymentFigures(view, words)} end={end} />
          <Text>
            <Link href={view.address} style={link}>
              {words.seeInBrowser}
            </Link>
          </Text>
          {view.paid.amount > 0 && <Text style={{ color: soft, fontSize: "13px" }}>{words.noInvoice}</Text>}
          <Foot view={view} words={words} />
        </Container>
      </Body>
    </Html>
  );
}

/** Whom to ask, and what holds. */
function Foot({ view: { look }, words }: { view: ReceiptView; words: CheckoutWords }) {
  const { support, terms, privacy } = look;
  const link = { color: look.tones.light.accent };
  const links = [
    ...(support?.page ? [[words.helpPage, support.page]] : []),
    ...(terms ? [[words.terms, terms.link]] : []),
    ...(privacy ? [[words.privacy, privacy]] : []),
  ];
  return (
    <Text style={{ fontSize: "13px" }}>
      {support && `${words.questions} ${[support.email, support.phone].filter(Boolean).join(", ")}`}
      {links.map(([name, address]) => (
        <span key={name}>
          {" · "}
          <Link href={address} style={link}>
            {name}
          </Link>
        </span>
      ))}
    </Text>
  );
}

/** The same as plain text, for whoever reads letters so. */
function plainLetter(view: ReceiptView, words: CheckoutWords): string {
  const { storefront, order, look, placed, mode, address } = view;
  const { title, says } = headOf(view, words);
  const figures = (all: readonly Figure[]) => all.map(([name, value]) => `${name}: ${value}`).join("\n");
  const { support, terms, privacy } = look;
  return [
    mode === "test" && words.test,
    `${storefront}\n${title}\n${words.order} ${order.reference}`,
    says,
    view.own,
    placed?.instructions && plainText(placed.instructions),
    figures(transferFigures(view, words)),
    figures(orderFigures(view, words)),
    figures(paymentFigures(view, words)),
    `${words.seeInBrowser}: ${address}`,
    view.paid.amount > 0 && words.noInvoice,
    support &&
      `${words.questions} ${[support.email, support.phone, support.page].filter(Boolean).join(", ")}`,
    [terms && `${words.terms}: ${terms.link}`, privacy && `${words.privacy}: ${privacy}`]
      .filter(Boolean)
      .join("\n"),
  ]
    .filter(Boolean)
    .join("\n\n");
}

/** Writes a letter about a payment, in the language that the order was made in. */
export async function writeReceipt(view: ReceiptView): Promise<ReceiptLetter> {
  const words = wordsFor(view.order.language);
  const { title } = headOf(view, words);
  const test = view.mode === "test" ? `${words.test}: ` : "";
  return {
    subject: `${test}${title} (${view.storefront}, ${words.order} ${view.order.reference})`,
    text: plainLetter(view, words),
    html: await render(<Letter view={view} words={words} />),
  };
}

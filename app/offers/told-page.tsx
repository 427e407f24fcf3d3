import { Link } from "react-router";
import type { OperationName } from "#core/profiles/profile";
import { type Tellable, type ToldField, toldBy, toldByFrame, untold } from "#core/profiles/told";
import { carrierOf } from "#server/offers/carrier";
import { nameOf } from "#server/offers/names";
import { PageHead, Mono, Sheet, Small, Stack, Table } from "../parts/sheet";
import { mustFindOffer } from "./sheet-view.server";
import type { Route } from "./+types/told-page";

export const meta: Route.MetaFunction = () => [{ title: "What the provider is told · Zahlung" }];

/** What is asked of a provider while a shopper pays, in this order. */
const asked = ["quote", "requestToken", "create"] as const satisfies readonly OperationName[];

export async function loader({ params, context }: Route.LoaderArgs) {
  const { now, found } = await mustFindOffer(context, params, "provider");
  const { profile, offer, working } = found;
  const carrier = carrierOf(now, profile, "test");
  const [currency = "EUR"] = now.storefront.currencies;
  const about = { currency, document: working.document };
  const told = [
    ...asked.map((operation) => ({ profile, operation, methodId: offer.methodId })),
    // What rides along is paid by whoever carries it.
    ...(carrier
      ? [
          {
            profile: carrier.offer.profile,
            operation: "create" as const,
            methodId: carrier.offer.offer.methodId,
          },
        ]
      : []),
  ];
  const sections = await Promise.all(
    told.map(async ({ profile: of, operation, methodId }) => ({
      provider: of.name,
      operation,
      fields: await toldBy(of, operation, { ...about, methodId }),
    })),
  );
  const frame = {
    ...{ provider: profile.name, operation: "frame" as const },
    fields: toldByFrame(found.versions.test.profile),
  };
  const sent = [frame, ...sections].filter(({ fields }) => fields.length > 0);
  return {
    name: nameOf(found),
    account: found.connection.name,
    sections: sent,
    untold: untold(sent.flatMap(({ fields }) => fields)),
  };
}

const operationWords = {
  quote: "Before the shopper has decided, what paying in parts comes to",
  requestToken: "When the shopper chooses it, so that the device asks",
  create: "When the shopper pays",
  frame: "When its form for cards is shown",
} satisfies Record<(typeof asked)[number] | "frame", string>;

/** What each is, and what a provider does with it. */
const words: Record<Tellable, { name: string; why: string }> = {
  amount: { name: "the total", why: "so much is to be paid" },
  currency: { name: "the currency", why: "in it the total is meant" },
  reference: {
    name: "our reference of the payment",
    why: "by it messages are matched, and nothing is paid twice",
  },
  returnAddress: { name: "the way back", why: "there the shopper comes back to" },
  token: { name: "a one-time token", why: "it stands for the card, whose number never comes here" },
  methodId: { name: "the method", why: "which of its ways of paying is meant" },
  capture: { name: "capture at once or later", why: "whether the money is taken or held" },
  authentication: { name: "strong authentication", why: "whether the shopper is asked who they are" },
  statement: { name: "the statement text", why: "what the shopper reads on a statement" },
  language: { name: "the language", why: "in it the shopper is spoken to there" },
  country: { name: "the country", why: "what holds for shoppers there" },
  domain: { name: "the shop’s domain", why: "the device shows it to the shopper" },
  "order.number": { name: "the order’s number", why: "people find the order by it" },
  "order.lines": { name: "the order’s lines", why: "what is bought: some pay in parts only for named goods" },
  "order.shipping": { name: "the shipping", why: "part of what is bought" },
  "order.tax": { name: "the tax", why: "part of what is bought" },
  "order.total": { name: "the order’s total", why: "where a part of it is paid, what it is a part of" },
  repeats: { name: "whether it is charged again", why: "nothing is charged again without an agreement" },
  keep: { name: "whether the shopper wants it kept", why: "nothing is kept that nobody asked for" },
  brand: { name: "what the shop is called", why: "so the provider’s pages name it" },
  notes: { name: "pairs of your own", why: "for whatever you look up at the provider" },
  "order.shipTo": { name: "where it goes", why: "some look for misuse by it, and show it to the shopper" },
  "order.billTo": {
    name: "from where it is paid",
    why: "lenders and issuers hold it against what they know",
  },
  "order.shopper": { name: "who the shopper is at the shop", why: "who comes back is known again there" },
  "order.email": { name: "the shopper’s e-mail address", why: "the provider writes to the shopper" },
};

/** What leaves the house when a shopper pays with an offer, field by field, and what stays here. */
export default function ToldPage({ loaderData, params }: Route.ComponentProps) {
  const { name, account, sections, untold: stays } = loaderData;
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <Link to={`/s/${params.storefront}/offer/${params.offer}`}>
            {name} through {account}
          </Link>
          <h1>What the provider is told</h1>
          <p>
            Every field of what is asked, for a basket to look at. What each was made of was found by trying:
            the same basket with one thing otherwise. The account’s own values stand in brackets.
          </p>
        </div>
      </PageHead>
      {sections.map(({ provider, operation, fields }) => (
        <Sheet key={`${provider} ${operation}`}>
          <Stack>
            <h2>
              {operationWords[operation]}, to {provider}
            </h2>
            <Table>
              <thead>
                <tr>
                  <th scope="col">Field at {provider}</th>
                  <th scope="col">For example</th>
                  <th scope="col">What it is</th>
                  <th scope="col">What for</th>
                </tr>
              </thead>
              <tbody>
                {fields.map((field) => (
                  <FieldRow key={field.path} field={field} />
                ))}
              </tbody>
            </Table>
          </Stack>
        </Sheet>
      ))}
      <Sheet>
        <Stack>
          <h2>What stays here</h2>
          {stays.length === 0 ? (
            <Small>Nothing: all that is known of an order is told.</Small>
          ) : (
            <p>Not told: {stays.map((one) => words[one].name).join(", ")}.</p>
          )}
          <Small>
            Which fields there are is said by the provider’s profile; nothing else ever leaves. Card numbers
            go from the shopper’s browser to the provider and never come here.
          </Small>
        </Stack>
      </Sheet>
    </Stack>
  );
}

function FieldRow({ field: { path, value, of } }: { field: ToldField }) {
  return (
    <tr>
      <th scope="row">
        <Mono>“{path}”</Mono>
      </th>
      <td>
        <Mono>{value}</Mono>
      </td>
      <td>{of.length === 0 ? "the same for every order" : of.map((one) => words[one].name).join(", ")}</td>
      <td>
        <Small as="span">{of.map((one) => words[one].why).join("; ")}</Small>
      </td>
    </tr>
  );
}

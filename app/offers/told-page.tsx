import { Link } from "react-router";
import type { OperationName } from "#core/profiles/profile";
import { type Tellable, type ToldField, toldBy, toldByFrame, untold } from "#core/profiles/told";
import { carrierOf } from "#server/offers/carrier";
import { nameOf } from "#server/offers/names";
import { PageHead, Mono, Sheet, Small, Stack, Table } from "../parts/sheet";
import { mustFindOffer } from "./sheet-view.server";
import type { Route } from "./+types/told-page";
import { t } from "../words/pages/offers-told";

export const meta: Route.MetaFunction = () => [{ title: t("what-the-provider-is-told") }];

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
  quote: t("before-the-shopper-has-decided"),
  requestToken: t("when-the-shopper-chooses-it"),
  create: t("when-the-shopper-pays"),
  frame: t("when-its-form-for-cards"),
} satisfies Record<(typeof asked)[number] | "frame", string>;

/** What each is, and what a provider does with it. */
const words: Record<Tellable, { name: string; why: string }> = {
  amount: { name: t("the-total"), why: t("so-much-is-to-be") },
  currency: { name: t("the-currency"), why: t("in-it-the-total-is") },
  reference: {
    name: t("our-reference-of-the-payment"),
    why: t("by-it-messages-are-matched"),
  },
  returnAddress: { name: t("the-way-back"), why: t("there-the-shopper-comes-back") },
  token: { name: t("a-one-time-token"), why: t("it-stands-for-the-card") },
  methodId: { name: t("the-method"), why: t("which-of-its-ways-of") },
  capture: { name: t("capture-at-once-or-later"), why: t("whether-the-money-is-taken") },
  authentication: { name: t("strong-authentication"), why: t("whether-the-shopper-is-asked") },
  statement: { name: t("the-statement-text"), why: t("what-the-shopper-reads-on") },
  language: { name: t("the-language"), why: t("in-it-the-shopper-is") },
  country: { name: t("the-country"), why: t("what-holds-for-shoppers-there") },
  domain: { name: t("the-shops-domain"), why: t("the-device-shows-it-to") },
  "order.number": { name: t("the-orders-number"), why: t("people-find-the-order-by") },
  "order.lines": { name: t("the-orders-lines"), why: t("what-is-bought-some-pay") },
  "order.shipping": { name: t("the-shipping"), why: t("part-of-what-is-bought") },
  "order.tax": { name: t("the-tax"), why: t("part-of-what-is-bought") },
  "order.total": { name: t("the-orders-total"), why: t("where-a-part-of-it") },
  repeats: { name: t("whether-it-is-charged-again"), why: t("nothing-is-charged-again-without") },
  keep: { name: t("whether-the-shopper-wants-it"), why: t("nothing-is-kept-that-nobody") },
  brand: { name: t("what-the-shop-is-called"), why: t("so-the-providers-pages-name") },
  notes: { name: t("pairs-of-your-own"), why: t("for-whatever-you-look-up") },
  "order.shipTo": { name: t("where-it-goes"), why: t("some-look-for-misuse-by") },
  "order.billTo": {
    name: t("from-where-it-is-paid"),
    why: t("lenders-and-issuers-hold-it"),
  },
  "order.shopper": { name: t("who-the-shopper-is-at"), why: t("who-comes-back-is-known") },
  "order.email": { name: t("the-shoppers-e-mail-address"), why: t("the-provider-writes-to-the") },
};

/** What leaves the house when a shopper pays with an offer, field by field, and what stays here. */
export default function ToldPage({ loaderData, params }: Route.ComponentProps) {
  const { name, account, sections, untold: stays } = loaderData;
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <Link to={`/s/${params.storefront}/offer/${params.offer}`}>
            {t("name-through-account", { name, account })}
          </Link>
          <h1>{t("what-the-provider-is-told-heading")}</h1>
          <p>{t("every-field-of-what-is")}</p>
        </div>
      </PageHead>
      {sections.map(({ provider, operation, fields }) => (
        <Sheet key={`${provider} ${operation}`}>
          <Stack>
            <h2>
              {t("operation-words-to-provider", { operationWords: operationWords[operation], provider })}
            </h2>
            <Table>
              <thead>
                <tr>
                  <th scope="col">{t("field-at-provider", { provider })}</th>
                  <th scope="col">{t("for-example")}</th>
                  <th scope="col">{t("what-it-is")}</th>
                  <th scope="col">{t("what-for")}</th>
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
          <h2>{t("what-stays-here")}</h2>
          {stays.length === 0 ? (
            <Small>{t("nothing-all-that-is-known")}</Small>
          ) : (
            <p>{t("not-told-stays", { stays: stays.map((one) => words[one].name).join(", ") })}</p>
          )}
          <Small>{t("which-fields-there-are-is")}</Small>
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
      <td>{of.length === 0 ? t("the-same-for-every-order") : of.map((one) => words[one].name).join(", ")}</td>
      <td>
        <Small as="span">{of.map((one) => words[one].why).join("; ")}</Small>
      </td>
    </tr>
  );
}

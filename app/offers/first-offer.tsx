import { data, Form, Link, redirect } from "react-router";
import { takesPayments } from "#core/profiles/profile";
import { connectionServing, connectionsOf } from "#server/connections/connections";
import { isOfflineKind, type OfflineKind, offlineKinds } from "#core/ways/offline/kinds";
import { addOffline } from "#server/offers/offline";
import { addOffer } from "#server/offers/offers";
import { runtimeContext } from "../context";
import { mustFindStorefront, mustStandAt } from "../frame/storefront-context";
import { mustOperate } from "../people/session";
import { Button, Wrong } from "../parts/form";
import { Row, Sheet, Small, Stack } from "../parts/sheet";
import { spoken } from "../words/spoken.server";
import type { Route } from "./+types/first-offer";
import { listed } from "../words/listed";
import { t } from "../words/pages/offers-first";

export const meta: Route.MetaFunction = () => [{ title: t("offer-zahlung") }];

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const storefront = await mustFindStorefront(context, params.storefront);
  const { inOrder, offers } = await mustStandAt(context, storefront.id);
  const [first] = inOrder;
  if (first && !new URL(request.url).searchParams.has("add"))
    throw redirect(`/s/${storefront.id}/offer/${first.offer.id}`);
  const connections = await connectionsOf(rt, storefront.id);
  const offered = (connection: string, method: string) =>
    offers.some((one) => one.connection.id === connection && one.offer.methodId === method);
  return spoken({
    some: inOrder.length > 0,
    methods: connections.flatMap(({ connection, profile }) =>
      (takesPayments(profile) ? profile.methods : [])
        .filter((method) => !offered(connection.id, method.id))
        .map((method) => ({
          connection: connection.id,
          provider: connection.name,
          method: method.id,
          name: method.name,
        })),
    ),
  });
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const storefront = await mustFindStorefront(context, params.storefront);
  const form = await request.formData();
  const kind = form.get("without");
  if (isOfflineKind(kind)) {
    const made = await addOffline(rt, person.email, storefront.id, kind);
    if (!made.ok) throw data(t("that-cannot-be-done-here"), { status: 409 });
    return redirect(`/s/${storefront.id}/offer/without/${made.id}`);
  }
  const where = await connectionServing(rt, storefront.id, String(form.get("connection") ?? ""));
  if (!where) throw data(t("there-is-no-such-connection"), { status: 404 });
  const method = String(form.get("method") ?? "");
  const inPlace = form.get("press") === "in-place";
  const added = await addOffer(rt, person.email, where, storefront, method, { inPlace });
  if (!added.ok)
    return data(
      {
        ...spoken({ says: added.says, rivals: added.rivals ?? [] }),
        connection: where.connection.id,
        method,
      },
      { status: 409 },
    );
  return redirect(`/s/${storefront.id}/offer/${added.id}`);
}

const kindWords: Record<OfflineKind, string> = {
  "bank-transfer": t("bank-transfer"),
  invoice: t("invoice"),
  "cash-on-delivery": t("cash-on-delivery"),
  cheque: t("cheque-or-money-order"),
  own: t("another-way-of-your-own"),
};

export default function FirstOffer({ loaderData, actionData, params }: Route.ComponentProps) {
  const { some, methods } = loaderData;
  return (
    <>
      <Sheet>
        <Stack>
          <h1>{t("nothing-is-offered-to-shoppers", { hasSome: some ? "yes" : "no" })}</h1>
          <Wrong>{actionData?.says}</Wrong>
          {actionData && actionData.rivals.length > 0 && (
            <Form method="post">
              <input type="hidden" name="connection" value={actionData.connection} />
              <input type="hidden" name="method" value={actionData.method} />
              <Row>
                <Button name="press" value="in-place">
                  {t("offer-it-in-test-in", { rivals: listed(actionData.rivals) })}
                </Button>
                <Small>{t("what-gives-way-is-switched")}</Small>
              </Row>
            </Form>
          )}
          {methods.length === 0 ? (
            <Row>
              <p>{t("connect-a-provider-first-its", { hasSome: some ? "yes" : "no" })}</p>
              <Button as={Link} to={`/s/${params.storefront}/plan`} $kind="main">
                {t("choose-a-provider")}
              </Button>
            </Row>
          ) : (
            methods.map((one) => (
              <Form method="post" key={one.connection + one.method}>
                <input type="hidden" name="connection" value={one.connection} />
                <input type="hidden" name="method" value={one.method} />
                <Button $kind="main">
                  {t("offer-name-through-provider", { name: one.name, provider: one.provider })}
                </Button>
              </Form>
            ))
          )}
          <h2>{t("without-a-provider")}</h2>
          <p>{t("shoppers-order-and-pay-you")}</p>
          <Row>
            {offlineKinds.map((kind) => (
              <Form method="post" key={kind}>
                <Button name="without" value={kind}>
                  {kindWords[kind]}
                </Button>
              </Form>
            ))}
          </Row>
        </Stack>
      </Sheet>
    </>
  );
}

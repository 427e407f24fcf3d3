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

export const meta: Route.MetaFunction = () => [{ title: "Offer · Zahlung" }];

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
    if (!made.ok) throw data("That cannot be done here.", { status: 409 });
    return redirect(`/s/${storefront.id}/offer/without/${made.id}`);
  }
  const where = await connectionServing(rt, storefront.id, String(form.get("connection") ?? ""));
  if (!where) throw data("There is no such connection here.", { status: 404 });
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
  "bank-transfer": "Bank transfer",
  invoice: "Invoice",
  "cash-on-delivery": "Cash on delivery",
  cheque: "Cheque or money order",
  own: "Another way of your own",
};

export default function FirstOffer({ loaderData, actionData, params }: Route.ComponentProps) {
  const { some, methods } = loaderData;
  return (
    <>
      <Sheet>
        <Stack>
          <h1>{some ? "What else can be offered" : "Nothing is offered to shoppers yet"}</h1>
          <Wrong>{actionData?.says}</Wrong>
          {actionData && actionData.rivals.length > 0 && (
            <Form method="post">
              <input type="hidden" name="connection" value={actionData.connection} />
              <input type="hidden" name="method" value={actionData.method} />
              <Row>
                <Button name="press" value="in-place">
                  Offer it in test in place of {actionData.rivals.join(" and ")}
                </Button>
                <Small>What gives way is switched off in test; live stays as it is.</Small>
              </Row>
            </Form>
          )}
          {methods.length === 0 ? (
            <Row>
              <p>
                {some
                  ? "Every method of every connection is offered. Connect another provider for more."
                  : "Connect a provider first; its methods can be offered then."}
              </p>
              <Button as={Link} to={`/s/${params.storefront}/plan`} $kind="main">
                Choose a provider
              </Button>
            </Row>
          ) : (
            methods.map((one) => (
              <Form method="post" key={one.connection + one.method}>
                <input type="hidden" name="connection" value={one.connection} />
                <input type="hidden" name="method" value={one.method} />
                <Button $kind="main">
                  Offer “{one.name}” through {one.provider}
                </Button>
              </Form>
            ))
          )}
          <h2>Without a provider</h2>
          <p>Shoppers order, and pay you by another road; you write down here what came.</p>
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

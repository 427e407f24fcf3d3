import { data, Form, Link, redirect } from "react-router";
import { connectionServing, connectionsOf } from "#server/connections/connections";
import { addOffer, offersOf } from "#server/offers/offers";
import { runtimeContext } from "../context";
import { mustFindStorefront } from "../frame/storefront-context";
import { mustOperate } from "../people/session";
import { Button } from "../parts/form";
import { Row, Sheet, Stack } from "../parts/sheet";
import type { Route } from "./+types/first-offer";

export const meta: Route.MetaFunction = () => [{ title: "Offer · Zahlung" }];

export async function loader({ params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const storefront = await mustFindStorefront(context, params.storefront);
  const [first] = await offersOf(rt, storefront.id);
  if (first) throw redirect(`/s/${storefront.id}/offer/${first.offer.id}`);
  const connections = await connectionsOf(rt, storefront.id);
  return connections.flatMap(({ connection, profile }) =>
    (profile.operations.create ? profile.methods : []).map((method) => ({
      connection: connection.id,
      provider: profile.name,
      method: method.id,
      name: method.name,
    })),
  );
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const storefront = await mustFindStorefront(context, params.storefront);
  const form = await request.formData();
  const where = await connectionServing(rt, storefront.id, String(form.get("connection") ?? ""));
  if (!where) throw data("There is no such connection here.", { status: 404 });
  const id = await addOffer(rt, person.email, where, storefront, String(form.get("method") ?? ""));
  if (!id) throw data("The provider has no such method.", { status: 404 });
  return redirect(`/s/${storefront.id}/offer/${id}`);
}

export default function FirstOffer({ loaderData, params }: Route.ComponentProps) {
  return (
    <Sheet>
      <Stack>
        <h1>Nothing is offered to shoppers yet</h1>
        {loaderData.length === 0 ? (
          <Row>
            <p>Connect a provider first; its methods can be offered then.</p>
            <Button as={Link} to={`/s/${params.storefront}/plan`} $kind="main">
              Choose a provider
            </Button>
          </Row>
        ) : (
          loaderData.map((one) => (
            <Form method="post" key={one.connection + one.method}>
              <input type="hidden" name="connection" value={one.connection} />
              <input type="hidden" name="method" value={one.method} />
              <Button $kind="main">
                Offer “{one.name}” through {one.provider}
              </Button>
            </Form>
          ))
        )}
      </Stack>
    </Sheet>
  );
}

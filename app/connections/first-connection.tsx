import { Link, redirect } from "react-router";
import { connectionsOf } from "#server/connections/connections";
import { runtimeContext } from "../context";
import { mustFindStorefront } from "../frame/storefront-context";
import { Button } from "../parts/form";
import { Row, Sheet, Stack } from "../parts/sheet";
import type { Route } from "./+types/first-connection";

export const meta: Route.MetaFunction = () => [{ title: "Connect · Zahlung" }];

export async function loader({ params, context }: Route.LoaderArgs) {
  const storefront = await mustFindStorefront(context, params.storefront);
  const [first] = await connectionsOf(context.get(runtimeContext), storefront.id);
  if (first) throw redirect(`/s/${storefront.id}/connect/${first.connection.id}`);
  return null;
}

export default function FirstConnection({ params }: Route.ComponentProps) {
  return (
    <Sheet>
      <Stack>
        <h1>Nothing to connect yet</h1>
        <p>Choose a provider first; its handshake sheet opens here.</p>
        <Row>
          <Button as={Link} to={`/s/${params.storefront}/plan`} $kind="main">
            Choose a provider
          </Button>
        </Row>
      </Stack>
    </Sheet>
  );
}

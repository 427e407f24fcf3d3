import { Link, redirect } from "react-router";
import { connectionsOf } from "#server/connections/connections";
import { runtimeContext } from "../context";
import { mustFindStorefront } from "../frame/storefront-context";
import { Button } from "../parts/form";
import { Row, Sheet, Stack } from "../parts/sheet";
import type { Route } from "./+types/first-connection";
import { t } from "../words/pages/connections";

export const meta: Route.MetaFunction = () => [{ title: t("connect-zahlung") }];

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
        <h1>{t("nothing-to-connect-yet")}</h1>
        <p>{t("choose-a-provider-first-its")}</p>
        <Row>
          <Button as={Link} to={`/s/${params.storefront}/plan`} $kind="main">
            {t("choose-a-provider")}
          </Button>
        </Row>
      </Stack>
    </Sheet>
  );
}

import { Link, redirect } from "react-router";
import { finishLink } from "#server/connections/link";
import { personContext, runtimeContext } from "../context";
import { Sheet, Stack } from "../parts/sheet";
import { spoken } from "../words/spoken.server";
import type { Route } from "./+types/link-back";
import { t } from "../words/pages/connections";

export const meta: Route.MetaFunction = () => [{ title: t("link-zahlung") }];

/** Where a provider sends the administrator back to after agreeing to a link, or not. */
export async function loader({ request, context }: Route.LoaderArgs) {
  const { email } = context.get(personContext);
  const linked = await finishLink(context.get(runtimeContext), email, new URL(request.url).searchParams);
  // What became of it stands on the handshake sheet, beside the press that began it.
  if (linked.link) throw redirect(`/s/${linked.link.storefrontId}/connect/${linked.link.connectionId}`);
  return spoken({ says: linked.ok ? "" : linked.says });
}

export default function LinkBack({ loaderData }: Route.ComponentProps) {
  return (
    <Sheet>
      <Stack>
        <h1>{t("nothing-was-linked")}</h1>
        <p role="alert">{loaderData.says}</p>
        <Link to="/">{t("to-the-start")}</Link>
      </Stack>
    </Sheet>
  );
}

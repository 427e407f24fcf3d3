import { data, Form, redirect, useNavigation } from "react-router";
import { signIn } from "#server/people/sign-in";
import { runtimeContext } from "../context";
import { Button } from "../parts/form";
import { Note } from "../parts/marks";
import { Sheet, Stack } from "../parts/sheet";
import { DoorPage } from "../frame/door-page";
import { sessionCookie } from "./session";
import { tell } from "../words/spoken.server";
import type { Route } from "./+types/sign-in";
import { TextBox } from "../parts/text-box";
import { t } from "../words/pages/people";

export const meta: Route.MetaFunction = () => [{ title: t("sign-in-zahlung") }];

/** Only a path of our own may be returned to. */
const ownPath = (to: string | null) => (to && /^\/(?![/\\])/.test(to) ? to : "/");

export async function action({ request, context }: Route.ActionArgs) {
  const rt = context.get(runtimeContext);
  const form = await request.formData();
  const email = String(form.get("email") ?? "");
  const from = request.headers.get("x-real-address") ?? "unknown";
  const result = await signIn(rt, email, String(form.get("password") ?? ""), from);
  if (!result.ok) {
    const headers = result.retryAfter ? { "retry-after": String(result.retryAfter) } : undefined;
    return data({ says: tell(result.says), email }, { status: result.retryAfter ? 429 : 401, headers });
  }
  const to = ownPath(new URL(request.url).searchParams.get("to"));
  return redirect(to, { headers: { "set-cookie": sessionCookie(rt, result.token, result.expiresAt) } });
}

export default function SignIn({ actionData }: Route.ComponentProps) {
  const busy = useNavigation().state !== "idle";
  return (
    <DoorPage>
      <Sheet>
        <Form method="post" replace>
          <Stack>
            <h1>{t("sign-in")}</h1>
            {actionData && <Note meaning="wrong">{actionData.says}</Note>}
            <TextBox
              label={t("e-mail")}
              name="email"
              type="text"
              inputMode="email"
              autoComplete="username"
              required
              maxLength={254}
              defaultValue={actionData?.email}
            />
            <TextBox
              label={t("password")}
              name="password"
              type="password"
              autoComplete="current-password"
              required
              maxLength={1000}
            />
            <Button $kind="main" disabled={busy}>
              {t("sign-in-or-checking", { hasBusy: busy ? "yes" : "no" })}
            </Button>
          </Stack>
        </Form>
      </Sheet>
    </DoorPage>
  );
}

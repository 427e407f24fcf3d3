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

export const meta: Route.MetaFunction = () => [{ title: "Sign in · Zahlung" }];

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
            <h1>Sign in</h1>
            {actionData && <Note meaning="wrong">{actionData.says}</Note>}
            <TextBox
              label="E-mail"
              name="email"
              type="text"
              inputMode="email"
              autoComplete="username"
              required
              maxLength={254}
              defaultValue={actionData?.email}
            />
            <TextBox
              label="Password"
              name="password"
              type="password"
              autoComplete="current-password"
              required
              maxLength={1000}
            />
            <Button $kind="main" disabled={busy}>
              {busy ? "Checking…" : "Sign in"}
            </Button>
          </Stack>
        </Form>
      </Sheet>
    </DoorPage>
  );
}

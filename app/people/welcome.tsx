import { data, Form, redirect } from "react-router";
import type { Role } from "#core/people/roles";
import { acceptInvitation, invitedRole } from "#server/people/invitations";
import { type NewPerson, personProblems } from "#server/people/people";
import { runtimeContext } from "../context";
import { Button } from "../parts/form";
import { Sheet, Small, Stack } from "../parts/sheet";
import { DoorPage } from "../frame/door-page";
import { spoken } from "../words/spoken.server";
import type { Route } from "./+types/welcome";
import { TextBox } from "../parts/text-box";
import { t } from "../words/pages/people";

export const meta: Route.MetaFunction = () => [{ title: t("welcome-zahlung") }];

const OVER = t("this-address-has-been-used");

const says: Record<Role, string> = {
  owner: t("as-an-owner-you-can"),
  operator: t("as-an-operator-you-can"),
  viewer: t("as-a-viewer-you-can"),
};

export async function loader({ params, context }: Route.LoaderArgs) {
  const role = await invitedRole(context.get(runtimeContext), params.token);
  if (!role) throw data(OVER, { status: 404 });
  return { role };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const form = await request.formData();
  const read = (name: string) => String(form.get(name) ?? "");
  const person = { email: read("email"), name: read("name"), password: read("password") };
  const problems = personProblems(person);
  if (Object.keys(problems).length > 0) {
    return data({ problems: spoken(problems), email: person.email, name: person.name }, { status: 422 });
  }
  const accepted = await acceptInvitation(context.get(runtimeContext), params.token, person);
  if (accepted === "over") throw data(OVER, { status: 404 });
  if (accepted === "address-taken") {
    const taken = { email: t("somebody-signs-in-with-this") };
    return data({ problems: taken, email: person.email, name: person.name }, { status: 422 });
  }
  return redirect("/sign-in");
}

export default function Welcome({ loaderData, actionData }: Route.ComponentProps) {
  const wrong: Partial<Record<keyof NewPerson, string>> = actionData?.problems ?? {};
  return (
    <DoorPage>
      <Sheet>
        <Form method="post">
          <Stack>
            <h1>{t("welcome-to-zahlung")}</h1>
            <Small>{t("says-this-address-works-once", { says: says[loaderData.role] })}</Small>
            <TextBox
              label={t("your-name")}
              name="name"
              autoComplete="name"
              defaultValue={actionData?.name}
              wrong={wrong.name}
            />
            <TextBox
              label={t("e-mail")}
              name="email"
              inputMode="email"
              autoComplete="username"
              defaultValue={actionData?.email}
              wrong={wrong.email}
            />
            <TextBox
              label={t("password")}
              name="password"
              type="password"
              autoComplete="new-password"
              hint={t("12-characters-or-more-a")}
              wrong={wrong.password}
            />
            <Button $kind="main">{t("come-in")}</Button>
          </Stack>
        </Form>
      </Sheet>
    </DoorPage>
  );
}

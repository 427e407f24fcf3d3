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

export const meta: Route.MetaFunction = () => [{ title: "Welcome · Zahlung" }];

const OVER =
  "This address has been used or is over. Ask an owner for another; before there is one, starting Zahlung again prints one.";

const says: Record<Role, string> = {
  owner: "As an owner you can do everything here, and invite others.",
  operator: "As an operator you can do everything here but invite others.",
  viewer: "As a viewer you can look at everything here, and change nothing.",
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
    const taken = { email: "Somebody signs in with this address already." };
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
            <h1>Welcome to Zahlung</h1>
            <Small>{says[loaderData.role]} This address works once.</Small>
            <TextBox
              label="Your name"
              name="name"
              autoComplete="name"
              defaultValue={actionData?.name}
              wrong={wrong.name}
            />
            <TextBox
              label="E-mail"
              name="email"
              inputMode="email"
              autoComplete="username"
              defaultValue={actionData?.email}
              wrong={wrong.email}
            />
            <TextBox
              label="Password"
              name="password"
              type="password"
              autoComplete="new-password"
              hint="12 characters or more. A few unrelated words do well."
              wrong={wrong.password}
            />
            <Button $kind="main">Come in</Button>
          </Stack>
        </Form>
      </Sheet>
    </DoorPage>
  );
}

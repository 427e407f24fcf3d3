import { data, Form, Link, redirect, useNavigation } from "react-router";
import { styled } from "styled-components";
import { readStorefront, type StorefrontEntry } from "#core/storefronts/storefront";
import { addStorefront, allStorefronts } from "#server/storefronts/storefronts";
import { runtimeContext } from "../context";
import { Wordmark } from "../frame/wordmark";
import { mustOperate } from "../people/session";
import { Button, Field, Hint, Input, Wrong } from "../parts/form";
import { Sheet, Small, Stack } from "../parts/sheet";
import type { Route } from "./+types/new-storefront";

export const meta: Route.MetaFunction = () => [{ title: "New storefront · Zahlung" }];

const fields: { name: keyof StorefrontEntry; label: string; hint: string; start: string }[] = [
  { name: "name", label: "Name", hint: "As your shoppers know it.", start: "" },
  { name: "address", label: "Address", hint: "Where it sells, with https:// in front.", start: "https://" },
  { name: "country", label: "Country it sells from", hint: "Two letters, for example DE.", start: "" },
  {
    name: "languages",
    label: "Languages",
    hint: "The first is the main one, for example de, en.",
    start: "",
  },
  {
    name: "currencies",
    label: "Currencies",
    hint: "All that shoppers can switch between, the main one first: EUR, GBP.",
    start: "",
  },
  {
    name: "groups",
    label: "Shopper groups",
    hint: "Shoppers who are treated alike, for example Retail, Dealers.",
    start: "Retail",
  },
];

export async function loader({ context }: Route.LoaderArgs) {
  return { first: (await allStorefronts(context.get(runtimeContext))).length === 0 };
}

export async function action({ request, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const form = await request.formData();
  const entry = Object.fromEntries(
    fields.map(({ name }) => [name, String(form.get(name) ?? "").slice(0, 2000)]),
  ) as unknown as StorefrontEntry;
  const taken = (await allStorefronts(rt)).map((one) => one.id);
  const reading = readStorefront(entry, taken);
  if (!reading.ok) return data({ problems: reading.problems, entry }, { status: 422 });
  await addStorefront(rt, person.email, reading.storefront);
  return redirect(`/s/${reading.storefront.id}`);
}

const Page = styled.main`
  max-width: 36rem;
  margin: 6vh auto 4rem;
  padding: 0 1rem;
  display: grid;
  gap: 1.2rem;
  > a {
    text-decoration: none;
  }
`;

export default function NewStorefront({ loaderData, actionData }: Route.ComponentProps) {
  const busy = useNavigation().state !== "idle";
  return (
    <Page>
      <Link to="/" aria-label="Zahlung, home">
        <Wordmark />
      </Link>
      <Sheet>
        <Form method="post" noValidate>
          <Stack>
            <h1>{loaderData.first ? "Your first storefront" : "A new storefront"}</h1>
            <Small>One selling site of your shop. Providers are held against what you say here.</Small>
            {fields.map(({ name, label, hint, start }) => (
              <Field key={name}>
                {label}
                <Input
                  name={name}
                  defaultValue={actionData?.entry[name] ?? start}
                  maxLength={400}
                  aria-invalid={actionData?.problems[name] ? true : undefined}
                />
                <Hint>{hint}</Hint>
                <Wrong>{actionData?.problems[name]}</Wrong>
              </Field>
            ))}
            <div>
              <Button $kind="main" disabled={busy}>
                Add the storefront
              </Button>
            </div>
          </Stack>
        </Form>
      </Sheet>
    </Page>
  );
}

import { data, Form, useNavigation } from "react-router";
import { said } from "#core/said";
import { readStorefront, type StorefrontEntry } from "#core/storefronts/storefront";
import { addStorefront, allStorefronts } from "#server/storefronts/storefronts";
import { runtimeContext } from "../context";
import { leadOn } from "../frame/lead-on.server";
import { mustOperate } from "../people/session";
import { Button } from "../parts/form";
import { Small, Stack } from "../parts/sheet";
import { entryFrom, NarrowSheet, StorefrontFields } from "./storefront-form";
import { spoken } from "../words/spoken.server";
import type { Route } from "./+types/new-storefront";
import { t } from "../words/pages/storefronts";

export const meta: Route.MetaFunction = () => [{ title: t("new-storefront-zahlung") }];

const blank: StorefrontEntry = {
  name: "",
  address: "https://",
  country: "",
  languages: "",
  currencies: "",
  groups: "Retail",
};

export async function loader({ context }: Route.LoaderArgs) {
  return { first: (await allStorefronts(context.get(runtimeContext))).length === 0 };
}

export async function action({ request, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const entry = entryFrom(await request.formData());
  const taken = (await allStorefronts(rt)).map((one) => one.id);
  const reading = readStorefront(entry, taken);
  if (!reading.ok) return data({ problems: spoken(reading.problems), entry }, { status: 422 });
  await addStorefront(rt, person.email, reading.value);
  return leadOn(`/s/${reading.value.id}`, said("done.storefront-made", { storefront: reading.value.name }));
}

export default function NewStorefront({ loaderData, actionData }: Route.ComponentProps) {
  const busy = useNavigation().state !== "idle";
  return (
    <NarrowSheet>
      <Form method="post" noValidate>
        <Stack>
          <h1>{t("a-new-storefront", { hasFirst: loaderData.first ? "yes" : "no" })}</h1>
          <Small>{t("one-selling-site-of-your")}</Small>
          <StorefrontFields entry={actionData?.entry ?? blank} problems={actionData?.problems ?? []} />
          <div>
            <Button $kind="main" disabled={busy}>
              {t("add-the-storefront")}
            </Button>
          </div>
        </Stack>
      </Form>
    </NarrowSheet>
  );
}

import { useDeferredValue, useMemo, useState } from "react";
import { data, Form, Link, redirect, useSubmit } from "react-router";
import { styled } from "styled-components";
import { findProviders, searchIndex } from "#core/profiles/search";
import { nameOfCode } from "#core/places/names";
import type { Profile } from "#core/profiles/profile";
import { addConnection, connectionOf, connectionsElsewhere } from "#server/connections/connections";
import { serveStorefront } from "#server/connections/disconnect";
import { planOf, setListed, type PlannedProvider } from "#server/costs/plan";
import { profileOf } from "#server/profiles/profiles";
import { runtimeContext } from "../context";
import { localeOf, mustFindStorefront } from "../frame/storefront-context";
import { SelectBox } from "../parts/select-box";
import { mustOperate } from "../people/session";
import { Field, Input } from "../parts/form";
import { Note } from "../parts/marks";
import { PageHead, Row, Sheet, Small, Stack } from "../parts/sheet";
import { color } from "../theme/tokens";
import { ProviderRow, type ProviderView } from "./provider-row";
import { say, spoken } from "../words/spoken.server";
import type { Route } from "./+types/plan";
import { t } from "../words/pages/profiles";

export const meta: Route.MetaFunction = () => [{ title: t("plan-zahlung") }];

const code = (value: string | null, form: RegExp) => (value && form.test(value) ? value : null);

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const storefront = await mustFindStorefront(context, params.storefront);
  const search = new URL(request.url).searchParams;
  const country = code(search.get("country"), /^[A-Z]{2}$/);
  const shoppers = code(search.get("shoppers"), /^[A-Z]{2}$/);
  const currency = code(search.get("currency"), /^[A-Z]{3}$/);
  const [plan, elsewhere] = await Promise.all([
    planOf(rt, storefront, {
      ...(country && { merchantCountry: country }),
      ...(shoppers && { shopperCountry: shoppers }),
      ...(currency && { currencies: [currency] }),
    }),
    connectionsElsewhere(rt, storefront.id),
  ]);
  const all = plan.providers.map((one) => one.profile);
  const sorted = (kind: "region" | "currency", list: string[]) =>
    [...new Set(list)].sort((a, b) => nameOfCode(kind, a).localeCompare(nameOfCode(kind, b), "en"));
  return spoken({
    storefront: {
      name: storefront.name,
      country: storefront.country,
      currencies: storefront.currencies,
      locale: localeOf(storefront),
    },
    wanted: { country: plan.wanted.merchantCountry, shoppers, currency },
    choices: {
      countries: sorted("region", [
        storefront.country,
        ...all.flatMap((profile) => profile.merchantCountries),
      ]),
      shoppers: sorted(
        "region",
        all.flatMap((profile) => profile.methods.flatMap((method) => method.shopperCountries)),
      ),
      currencies: sorted("currency", [
        ...storefront.currencies,
        ...all.flatMap((profile) => profile.methods.flatMap((method) => method.currencies)),
      ]),
    },
    clashes: plan.chosen.clashes,
    currency: plan.volume.currency,
    orders: plan.volume.orders,
    said: plan.said,
    providers: plan.providers.map((one) => ({
      ...viewOf(one, all),
      elsewhere: elsewhere
        .filter((other) => other.profileId === one.profile.id)
        .map(({ id, name }) => ({ id, name })),
    })),
  });
}

function viewOf(
  { profile, fit, listed, connections, costs, ridesOn }: PlannedProvider,
  all: readonly Profile[],
): Omit<ProviderView, "elsewhere"> {
  return {
    id: profile.id,
    version: profile.version,
    name: profile.name,
    about: profile.about,
    dashboard: profile.modes.test.dashboard,
    payout: profile.payout.says,
    countries: profile.merchantCountries,
    fit: { ok: fit.ok, because: fit.because.map(say), notes: fit.notes.map(say) },
    listed,
    connections,
    roads: all
      .filter((other) => other.methods.some((method) => method.carries.includes(profile.id)))
      .map((other) => other.name),
    ridesOn,
    carriers: all
      .filter((other) => other.methods.some((method) => method.takes?.includes(profile.id)))
      .map((other) => other.name),
    atHand: profile.atHand,
    fields: profile.fields.map((field) => ({ label: field.label, once: field.shownOnce })),
    methods: profile.methods.map((method) => ({
      id: method.id,
      name: method.name,
      kind: method.kind,
      synonyms: method.synonyms,
      networks: method.networks,
      currencies: method.currencies,
      shopperCountries: method.shopperCountries,
      can: [
        method.capture.includes("later") && t("capture-later"),
        method.refund && "refund",
        method.partialRefund && t("refund-in-part"),
      ].filter((one): one is string => typeof one === "string"),
      fits: fit.methods.find((one) => one.id === method.id)?.fits ?? true,
      cost: costs.find((one) => one.method === method.id)?.cost ?? null,
    })),
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const storefront = await mustFindStorefront(context, params.storefront);
  const form = await request.formData();
  const profile = await profileOf(rt, String(form.get("profile") ?? ""));
  if (!profile) throw data(t("there-is-no-such-provider"), { status: 404 });
  switch (form.get("press")) {
    case "list":
    case "unlist":
      await setListed(rt, person.email, storefront.id, profile.id, form.get("press") === "list");
      return null;
    case "use": {
      const where = await connectionOf(rt, String(form.get("connection") ?? ""));
      if (where?.connection.profileId !== profile.id)
        throw data(t("there-is-no-such-connection"), { status: 404 });
      await serveStorefront(rt, person.email, where, storefront.id, true);
      return redirect(`/s/${storefront.id}/connect/${where.connection.id}`);
    }
    default: {
      const id = await addConnection(rt, person.email, { profile, storefrontId: storefront.id });
      return redirect(`/s/${storefront.id}/connect/${id}`);
    }
  }
}

const Seek = styled.div`
  display: grid;
  grid-template-columns: minmax(16rem, 2fr) repeat(3, minmax(8rem, 1fr));
  gap: 0.6rem 1rem;
  align-items: end;
  @media (max-width: 55rem) {
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  }
`;

const Slot = styled.div`
  content-visibility: auto;
  contain-intrinsic-size: auto 9rem;
  border-top: 1px solid ${color.rule};
  padding: 0.9rem 0;
  &[hidden] {
    display: none;
  }
`;

export default function Plan({ loaderData, params }: Route.ComponentProps) {
  const { storefront, providers, clashes, wanted, choices } = loaderData;
  const [typed, setTyped] = useState("");
  const sought = useDeferredValue(typed);
  const index = useMemo(() => searchIndex(providers), [providers]);
  const found = useMemo(() => findProviders(index, providers, sought), [index, providers, sought]);
  // Rows stay where they are made and only come and go, best first: a keystroke is answered at once.
  const place = new Map(found.map((id, i) => [id, i]));
  const sorted = [...providers].sort(
    (a, b) => (place.get(a.id) ?? Infinity) - (place.get(b.id) ?? Infinity) || 0,
  );
  const fitting = sorted.filter((one) => one.fit.ok);
  const others = sorted.filter((one) => !one.fit.ok);
  const any = (list: ProviderView[]) => list.some((one) => place.has(one.id));
  const rows = (list: ProviderView[]) =>
    list.map((one) => (
      <Slot key={one.id} hidden={!place.has(one.id)}>
        <ProviderRow
          provider={one}
          storefrontId={params.storefront}
          currency={loaderData.currency}
          orders={loaderData.orders}
          locale={storefront.locale}
        />
      </Slot>
    ));
  return (
    <>
      <PageHead>
        <div>
          <h1>{t("what-can-name-take", { name: storefront.name })}</h1>
          <p>{t("every-installed-provider-held-against", { hasSaid: loaderData.said ? "yes" : "no" })}</p>
        </div>
        <Link to="/profiles/install">{t("install-a-provider-from-a")}</Link>
      </PageHead>
      <Stack $gap={1.1} data-answers aria-busy={typed !== sought}>
        <Filters
          typed={typed}
          onType={setTyped}
          wanted={wanted}
          choices={choices}
          country={storefront.country}
        />
        {clashes.map((clash) => (
          <Note key={clash.says} meaning={clash.blocking ? "wrong" : "waits"}>
            {clash.says} {clash.wayOut}
          </Note>
        ))}
        <Sheet aria-label={t("providers-that-fit")}>
          <Stack $gap={0}>
            {!any(fitting) && <Small>{t("no-provider-that-fits-is")}</Small>}
            {rows(fitting)}
          </Stack>
        </Sheet>
        {others.length > 0 && (
          <Sheet aria-label={t("providers-that-cannot-serve")} hidden={!any(others)}>
            <Stack $gap={0}>
              <h2>{t("cannot-serve-name", { name: storefront.name })}</h2>
              {rows(others)}
            </Stack>
          </Sheet>
        )}
      </Stack>
    </>
  );
}

type View = Route.ComponentProps["loaderData"];

function Filters({
  typed,
  onType,
  wanted,
  choices,
  country,
}: {
  typed: string;
  onType: (typed: string) => void;
  wanted: View["wanted"];
  choices: View["choices"];
  country: string;
}) {
  const submit = useSubmit();
  return (
    <Form
      method="get"
      role="search"
      aria-label={t("providers")}
      onChange={(event) => void submit(event.currentTarget, { replace: true })}
    >
      <Seek>
        <Field>
          {t("provider-method-or-network")}
          <Input
            type="search"
            value={typed}
            placeholder={t("for-example-norda-instalments-scan")}
            onChange={(event) => {
              event.stopPropagation();
              onType(event.currentTarget.value);
            }}
          />
        </Field>
        <SelectBox
          label={t("merchant-in")}
          name="country"
          defaultValue={wanted.country}
          choices={choices.countries.map((one) => ({
            id: one,
            name: `${nameOfCode("region", one)}${one === country ? t("this-storefront") : ""}`,
          }))}
        />
        <SelectBox
          label={t("shoppers-in")}
          name="shoppers"
          defaultValue={wanted.shoppers ?? ""}
          choices={[
            { id: "", name: t("anywhere") },
            ...choices.shoppers.map((one) => ({ id: one, name: nameOfCode("region", one) })),
          ]}
        />
        <SelectBox
          label={t("charged-in")}
          name="currency"
          defaultValue={wanted.currency ?? ""}
          choices={[
            { id: "", name: t("its-own-currencies") },
            ...choices.currencies.map((one) => ({ id: one, name: `${nameOfCode("currency", one)}, ${one}` })),
          ]}
        />
      </Seek>
      <noscript>
        <Row>
          <button>{t("show")}</button>
        </Row>
      </noscript>
    </Form>
  );
}

import { ExternalLink } from "lucide-react";
import { Form, Link, redirect } from "react-router";
import { styled } from "styled-components";
import { addConnection, connectionsOf } from "#server/connections/connections";
import { allProfiles, profileOf } from "#server/profiles/profiles";
import { decimalText } from "#core/money/money";
import { methodOf, type Profile } from "#core/profiles/profile";
import { data } from "react-router";
import { runtimeContext } from "../context";
import { mustFindStorefront } from "../frame/storefront-context";
import { mustOperate } from "../people/session";
import { Button } from "../parts/form";
import { Says } from "../parts/marks";
import { PageHead, Row, Sheet, Small, Stack, Table } from "../parts/sheet";
import type { Route } from "./+types/plan";

export const meta: Route.MetaFunction = () => [{ title: "Plan · Zahlung" }];

export async function loader({ params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const storefront = await mustFindStorefront(context, params.storefront);
  const [profiles, connections] = await Promise.all([allProfiles(rt), connectionsOf(rt, storefront.id)]);
  return {
    storefront: { name: storefront.name, country: storefront.country, currencies: storefront.currencies },
    providers: profiles.map((profile) => ({
      id: profile.id,
      version: profile.version,
      name: profile.name,
      about: profile.about,
      dashboard: profile.modes.test.dashboard,
      methods: profile.methods.map(({ name, networks, currencies, capture, refund, partialRefund }) => ({
        name,
        networks,
        currencies,
        later: capture.includes("later"),
        refund,
        partialRefund,
      })),
      countries: profile.merchantCountries,
      fees: feesFor(profile, storefront.currencies),
      fits: fits(profile, storefront),
      connectionId: connections.find((one) => one.connection.profileId === profile.id)?.connection.id ?? null,
      needs: profile.fields.map((field) => ({ label: field.label, once: field.shownOnce })),
    })),
  };
}

const feesFor = (profile: Profile, currencies: readonly string[]) =>
  profile.fees.methods.map((fee) => ({
    when: methodOf(profile, fee.method)?.name ?? fee.method,
    says: [
      `${fee.percent} %`,
      ...currencies.flatMap((currency) => {
        const fixed = fee.fixed[currency];
        return fixed === undefined ? [] : [`${decimalText({ amount: fixed, currency })} ${currency}`];
      }),
    ].join(" + "),
  }));

/** What rules a provider in or out for a storefront, from its profile. */
function fits(profile: Profile, storefront: { country: string; currencies: string[] }) {
  const country = profile.merchantCountries.includes(storefront.country);
  const taken = new Set(profile.methods.flatMap((method) => method.currencies));
  return {
    ok: country && storefront.currencies.every((one) => taken.has(one)),
    says: [
      country ? `takes merchants in ${storefront.country}` : `takes no merchants in ${storefront.country}`,
      ...storefront.currencies.map((one) => (taken.has(one) ? `charges ${one}` : `cannot charge ${one}`)),
    ],
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const storefront = await mustFindStorefront(context, params.storefront);
  const profile = await profileOf(rt, String((await request.formData()).get("profile") ?? ""));
  if (!profile) throw data("There is no such provider.", { status: 404 });
  const known = (await connectionsOf(rt, storefront.id)).find(
    (one) => one.connection.profileId === profile.id,
  );
  const id =
    known?.connection.id ?? (await addConnection(rt, person.email, { profile, storefrontId: storefront.id }));
  return redirect(`/s/${storefront.id}/connect/${id}`);
}

const Columns = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 1.2rem 2.5rem;
  @media (max-width: 55rem) {
    grid-template-columns: minmax(0, 1fr);
  }
`;

export default function Plan({ loaderData, params }: Route.ComponentProps) {
  const { storefront, providers } = loaderData;
  return (
    <>
      <PageHead>
        <div>
          <h1>What can {storefront.name} take?</h1>
          <p>
            Providers whose profiles are installed, held against this storefront’s country and currencies.
          </p>
        </div>
      </PageHead>
      <Stack $gap={1.3}>
        {providers.map((one) => (
          <Provider key={one.id} provider={one} storefrontId={params.storefront} />
        ))}
      </Stack>
    </>
  );
}

type ProviderView = Route.ComponentProps["loaderData"]["providers"][number];

function Provider({ provider, storefrontId }: { provider: ProviderView; storefrontId: string }) {
  return (
    <Sheet aria-label={provider.name}>
      <Columns>
        <Stack>
          <Row $gap={1}>
            <h2>{provider.name}</h2>
            <Small>profile {provider.version}</Small>
          </Row>
          <p>{provider.about}</p>
          <Row $gap={1.2}>
            {provider.fits.says.map((says) => (
              <Says key={says} meaning={says.includes("no ") || says.includes("cannot") ? "wrong" : "proven"}>
                {says}
              </Says>
            ))}
          </Row>
          <Table>
            <thead>
              <tr>
                <th scope="col">Method</th>
                <th scope="col">Networks</th>
                <th scope="col">Currencies</th>
                <th scope="col">Can</th>
              </tr>
            </thead>
            <tbody>
              {provider.methods.map((method) => (
                <tr key={method.name}>
                  <td>{method.name}</td>
                  <td>{method.networks.join(", ")}</td>
                  <td>{method.currencies.join(", ")}</td>
                  <td>
                    {[
                      method.later && "capture later",
                      method.refund && "refund",
                      method.partialRefund && "refund in part",
                    ]
                      .filter(Boolean)
                      .join(", ")}
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
          <Small>Merchants in {provider.countries.join(", ")}</Small>
        </Stack>
        <Stack>
          <h3>What it takes from each payment</h3>
          <Table>
            <tbody>
              {provider.fees.map((fee) => (
                <tr key={fee.when}>
                  <td>{fee.when}</td>
                  <td className="amount">{fee.says}</td>
                </tr>
              ))}
            </tbody>
          </Table>
          <h3>Have at hand</h3>
          <ul>
            {provider.needs.map((need) => (
              <li key={need.label}>
                {need.label}
                {need.once && " (shown only once over there: copy it at once)"}
              </li>
            ))}
          </ul>
          <Row>
            {provider.connectionId ? (
              <Button as={Link} to={`/s/${storefrontId}/connect/${provider.connectionId}`}>
                Open its connection
              </Button>
            ) : (
              <Form method="post">
                <input type="hidden" name="profile" value={provider.id} />
                <Button $kind="main">Connect {provider.name}</Button>
              </Form>
            )}
            <a href={provider.dashboard} target="_blank" rel="noreferrer">
              Its dashboard <ExternalLink size={13} aria-hidden />
            </a>
          </Row>
        </Stack>
      </Columns>
    </Sheet>
  );
}

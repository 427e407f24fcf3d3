import { data, Link } from "react-router";
import { styled } from "styled-components";
import { takesPayments } from "#core/profiles/profile";
import { connectionServing, connectionsOf } from "#server/connections/connections";
import { cutOver, cutoversOf, fallBack } from "#server/cutover/cutover";
import { firstLivePayment } from "#server/cutover/first-payment";
import { interlockingFrom } from "#server/cutover/interlocking";
import { standingOf } from "#server/cutover/standing";
import { offersOf } from "#server/offers/offers";
import { runtimeContext } from "../context";
import { localeOf, mustFindStorefront } from "../frame/storefront-context";
import { mustOperate } from "../people/session";
import { useLive } from "../parts/live";
import { Mark, Says } from "../parts/marks";
import { PageHead, Row, Sheet, Small, Stack, Table } from "../parts/sheet";
import { When } from "../parts/when";
import { stationLink } from "../frame/station-link";
import { color } from "../theme/tokens";
import { settingWords, valueWords } from "./change-words";
import type { ConnectionView } from "./connection-view";
import { Guide } from "./guide";
import { Back, Throw } from "./moves";
import type { Route } from "./+types/interlocking";

export const meta: Route.MetaFunction = () => [{ title: "Cut over · Zahlung" }];

export async function loader({ params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const storefront = await mustFindStorefront(context, params.storefront);
  // A device wallet has no lever of its own: it goes live with the connection it rides on.
  const all = (await connectionsOf(rt, storefront.id)).filter(({ profile }) => takesPayments(profile));
  const offers = await offersOf(rt, storefront.id);
  const connections = await Promise.all(
    all.map(async (where) => ({
      id: where.connection.id,
      name: where.connection.name,
      live: where.connection.live,
      ...interlockingFrom(await standingOf(rt, where, storefront, offers)),
      history: (await cutoversOf(rt, where.connection.id)).map(({ id, kind, at, person, changes }) => ({
        id,
        kind,
        at,
        person,
        changes: changes.length,
      })),
      first: await firstLivePayment(rt, storefront.id, where.connection),
      offers: offers.filter((one) => one.connection.id === where.connection.id).map((one) => one.offer.id),
    })),
  );
  return {
    connections,
    locale: localeOf(storefront),
    shop: `${storefront.https ? "https" : "http"}://${storefront.domain}`,
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const storefront = await mustFindStorefront(context, params.storefront);
  const form = await request.formData();
  const where = await connectionServing(rt, storefront.id, String(form.get("connection") ?? ""));
  if (!where) throw data("There is no such connection here.", { status: 404 });
  if (form.get("press") === "fall-back") {
    const back = await fallBack(rt, person.email, where, storefront);
    return back ? { says: null } : data({ says: "It is not live." }, { status: 409 });
  }
  const moved = await cutOver(
    rt,
    person.email,
    where,
    storefront,
    String(form.get("revisions") ?? "")
      .split(",")
      .filter(Boolean),
  );
  return moved.ok ? { says: null } : data({ says: moved.says }, { status: 409 });
}

export default function InterlockingPage({ loaderData, params }: Route.ComponentProps) {
  const { connections } = loaderData;
  return (
    <>
      <PageHead>
        <div>
          <h1>Cut over</h1>
          <p>
            The lever moves only when every gate is open. What is listed on the right is all that changes.
          </p>
        </div>
      </PageHead>
      {connections.length === 0 && (
        <Sheet>
          <p>
            There is no connection yet. <Link to={`/s/${params.storefront}/plan`}>Choose a provider</Link>
          </p>
        </Sheet>
      )}
      {connections.map((one) => (
        <Frame
          key={one.id}
          one={one}
          storefrontId={params.storefront}
          locale={loaderData.locale}
          shop={loaderData.shop}
        />
      ))}
    </>
  );
}

const Halves = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1.15fr) minmax(0, 1fr);
  gap: 1.5rem 2.5rem;
  @media (max-width: 55rem) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
const Gates = styled.ol`
  border-top: 1.5px solid ${color.ink};
  li {
    display: grid;
    grid-template-columns: 1.4rem minmax(0, 1fr) auto;
    gap: 0.1rem 0.5rem;
    padding: 0.5rem 0;
    border-bottom: 1px solid ${color.rule};
    align-items: baseline;
  }
  p {
    grid-column: 2 / -1;
  }
`;

function Value({ path, value }: { path: string; value: string | null }) {
  return value === null ? <Small as="span">not set</Small> : <>{valueWords(path, value)}</>;
}

function Frame({
  one,
  storefrontId,
  locale,
  shop,
}: {
  one: ConnectionView;
  storefrontId: string;
  locale: string;
  shop: string;
}) {
  const isLive = one.live === "live";
  const pending = !isLive || one.changes.length > 0;
  useLive(isLive && (one.first === null || one.first.state !== "refunded"), 2000);
  return (
    <Stack $gap={1.3}>
      <Sheet aria-label={`Interlocking of ${one.name}`}>
        <Stack $gap={1.3}>
          <Row $gap={1}>
            <h2>{one.name}</h2>
            {isLive ? (
              <Says meaning="proven">Live</Says>
            ) : one.live === "fallen-back" ? (
              <Says meaning="waits">Fallen back to test</Says>
            ) : (
              <Says meaning="none">Test only</Says>
            )}
          </Row>
          <Halves>
            <Stack>
              <h3>Gates</h3>
              <Gates>
                {one.gates.map((gate) => (
                  <li key={gate.id}>
                    <Mark meaning={gate.open ? "proven" : "wrong"} />
                    <strong>{gate.title}</strong>
                    {gate.open ? (
                      gate.at ? (
                        <Small as="span">
                          <When at={gate.at} />
                        </Small>
                      ) : (
                        <span />
                      )
                    ) : (
                      <Link to={linkOf(storefrontId, one, gate)}>Open it</Link>
                    )}
                    <Small>{gate.says}</Small>
                  </li>
                ))}
              </Gates>
            </Stack>
            <Stack>
              <h3>What this cutover changes in live</h3>
              {one.changes.length === 0 ? (
                <Small>Nothing: live runs the working revision.</Small>
              ) : (
                <Table>
                  <thead>
                    <tr>
                      <th scope="col">Setting</th>
                      <th scope="col">Live now</th>
                      <th scope="col">Then</th>
                    </tr>
                  </thead>
                  <tbody>
                    {one.changes.map((change) => (
                      <tr key={change.offer + change.path}>
                        <td>{settingWords(change.path)}</td>
                        <td>
                          <Value path={change.path} value={change.from} />
                        </td>
                        <td>
                          <Value path={change.path} value={change.to} />
                        </td>
                      </tr>
                    ))}
                  </tbody>
                </Table>
              )}
              {!isLive && (
                <Small>
                  And: shoppers in the live shop are shown this offer, test orders leave the everyday lists,
                  and the shop is told to close them. A snapshot of what runs now is kept.
                </Small>
              )}
              {one.history.length > 0 && (
                <>
                  <h3>Movements of the lever</h3>
                  <Table>
                    <tbody>
                      {one.history.map((entry) => (
                        <tr key={entry.id}>
                          <td>
                            <When at={entry.at} />
                          </td>
                          <td>
                            {entry.kind === "cut-over"
                              ? `Cut over to live, ${entry.changes} settings changed`
                              : "Fell back to test"}
                          </td>
                          <td>{entry.person}</td>
                        </tr>
                      ))}
                    </tbody>
                  </Table>
                </>
              )}
            </Stack>
          </Halves>
          {pending && <Throw one={one} />}
          {isLive && <Back one={one} />}
        </Stack>
      </Sheet>
      {isLive && <Guide one={one} storefrontId={storefrontId} locale={locale} shop={shop} />}
    </Stack>
  );
}

const linkOf = (storefrontId: string, one: ConnectionView, gate: ConnectionView["gates"][number]) =>
  gate.id === "shop-key"
    ? `/s/${storefrontId}/shop`
    : stationLink(storefrontId, gate.station, { connectionId: one.id, offerId: one.offers[0] ?? null });

import { data, Link } from "react-router";
import { styled } from "styled-components";
import { wordingFor } from "#core/offers/offer";
import { takesPayments } from "#core/profiles/profile";
import { cutoversOf } from "#server/cutover/cutover";
import { firstLivePayments } from "#server/cutover/first-payment";
import { interlockingFrom, wouldChange } from "#server/cutover/interlocking";
import { cutoverBy, viewSnapshot } from "#server/cutover/snapshots";
import { runtimeContext } from "../context";
import { localeOf, mustStandAt, standAt } from "../frame/storefront-context";
import { mustOperate, mustOwn } from "../people/session";
import { useLive } from "../parts/live";
import { Mark, Says } from "../parts/marks";
import { PageHead, Row, Sheet, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { stationLink } from "../frame/station-link";
import { color } from "../theme/tokens";
import { Changes } from "./changes";
import type { ConnectionView } from "./connection-view";
import { Guide } from "./guide";
import { Movements } from "./movements";
import { Back, Throw, ThrowTogether } from "./moves";
import { press } from "./presses";
import { SnapshotSheet } from "./snapshot-sheet";
import type { Route } from "./+types/interlocking";

export const meta: Route.MetaFunction = () => [{ title: "Cut over · Zahlung" }];

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const { now, ...stands } = await standAt(context, params.storefront);
  const { storefront } = now;
  const search = new URL(request.url).searchParams;
  const [standings, movements, firsts, looked] = await Promise.all([
    stands.standings(),
    cutoversOf(rt, storefront.id),
    firstLivePayments(rt, storefront.id),
    search.has("look") ? cutoverBy(rt, storefront.id, search.get("look") ?? "") : null,
  ]);
  const connections = standings
    // What takes no payments has nothing to cut over.
    .filter(({ profile }) => takesPayments(profile))
    .map((standing) => {
      const { connection, pair } = standing;
      const mine = standing.offers.map((one) => one.offer);
      const only = mine.find((one) => one.offer.id === search.get("only"));
      const {
        replaces,
        offers: moving,
        ...locked
      } = interlockingFrom(standing, {
        offers: only ? [only.offer.id] : null,
      });
      return {
        id: connection.id,
        name: connection.name,
        live: pair.live,
        ...locked,
        pending: wouldChange(standing, { ...locked, replaces, offers: moving }),
        replaces: replaces.map((one) => `“${labelOf(one.working)}” of ${one.connection.name}`),
        only: only?.offer.id ?? null,
        offers: mine.map((one) => ({
          id: one.offer.id,
          label: labelOf(one.working),
          live: one.live !== null && pair.live === "live",
          off: one.offer.offInTest,
        })),
        history: movements
          .filter((entry) => entry.connectionId === connection.id)
          .slice(0, 20)
          .map(({ id, kind, at, person, changes, reason }) => ({
            id,
            kind,
            at,
            person,
            changes: changes.length,
            reason: kind === "restore" ? reason : null,
          })),
        first: firsts.get(connection.id) ?? null,
      };
    });
  return {
    connections,
    looked: looked ? { connection: looked.connectionId, ...(await viewSnapshot(rt, now, looked)) } : null,
    locale: localeOf(storefront),
    shop: `${storefront.https ? "https" : "http"}://${storefront.domain}`,
  };
}

const labelOf = ({ document }: { document: Parameters<typeof wordingFor>[0] }) =>
  wordingFor(document, "en").label;

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const { storefront } = await mustStandAt(context, params.storefront);
  const form = await request.formData();
  // Live without gates is for those who answer for it.
  if (form.get("press") === "restore") mustOwn(context);
  const answer = await press(rt, person.email, storefront.id, form);
  if (!answer) throw data("That cannot be done here.", { status: 400 });
  return answer.ok
    ? { says: answer.says }
    : data({ says: answer.says, refused: true }, { status: answer.status });
}

export default function InterlockingPage({ loaderData, params }: Route.ComponentProps) {
  const { connections, looked } = loaderData;
  const ready = connections.filter((one) => one.open && one.pending && one.only === null);
  return (
    <>
      <PageHead>
        <div>
          <h1>Cut over</h1>
          <p>
            The lever moves only when every gate is open, for this storefront and no other. What is listed on
            the right is all that changes.
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
      {ready.length > 1 && (
        <Sheet aria-label="All that is ready">
          <ThrowTogether ready={ready} />
        </Sheet>
      )}
      {connections.map((one) => (
        <Frame
          key={one.id}
          one={one}
          looked={looked?.connection === one.id ? looked : null}
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

type Looked = NonNullable<Route.ComponentProps["loaderData"]["looked"]>;

function Frame({
  one,
  looked,
  storefrontId,
  locale,
  shop,
}: {
  one: ConnectionView;
  looked: Looked | null;
  storefrontId: string;
  locale: string;
  shop: string;
}) {
  const isLive = one.live === "live";
  useLive(isLive && (one.first === null || one.first.state !== "refunded"), 2000);
  return (
    <Stack $gap={1.3}>
      <Sheet aria-label={`Interlocking of ${one.name}`}>
        <Stack $gap={1.3}>
          <Row $gap={1}>
            <h2>{one.name}</h2>
            <Stands live={one.live} />
            {one.offers.length > 1 && <Scope one={one} />}
          </Row>
          <Halves>
            <GateList one={one} storefrontId={storefrontId} />
            <Stack>
              <Changes one={one} />
              {one.history.length > 0 && <Movements history={one.history} looked={looked?.id ?? null} />}
              {looked && <SnapshotSheet looked={looked} connection={one.name} />}
            </Stack>
          </Halves>
          {one.pending && <Throw one={one} />}
          {isLive && <Back one={one} />}
        </Stack>
      </Sheet>
      {isLive && <Guide one={one} storefrontId={storefrontId} locale={locale} shop={shop} />}
    </Stack>
  );
}

function Stands({ live }: { live: ConnectionView["live"] }) {
  if (live === "live") return <Says meaning="proven">Live</Says>;
  if (live === "fallen-back") return <Says meaning="waits">Fallen back to test</Says>;
  return <Says meaning="none">Test only</Says>;
}

/** Which of a connection's offers the lever is about: all of them, or one. */
function Scope({ one }: { one: ConnectionView }) {
  return (
    <Row role="group" aria-label={`What the lever of ${one.name} moves`}>
      <Small as="span">Moves</Small>
      <Link to="?" aria-current={one.only === null ? "true" : undefined} preventScrollReset>
        all its offers
      </Link>
      {one.offers.map((offer) => (
        <Link
          key={offer.id}
          to={`?only=${offer.id}`}
          aria-current={one.only === offer.id ? "true" : undefined}
          preventScrollReset
        >
          only “{offer.label}”
        </Link>
      ))}
    </Row>
  );
}

function GateList({ one, storefrontId }: { one: ConnectionView; storefrontId: string }) {
  return (
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
  );
}

const linkOf = (storefrontId: string, one: ConnectionView, gate: ConnectionView["gates"][number]) =>
  gate.id === "shop-key"
    ? `/s/${storefrontId}/shop`
    : stationLink(storefrontId, gate.station, {
        connectionId: one.id,
        offerId: one.only ?? one.offers[0]?.id ?? null,
      });

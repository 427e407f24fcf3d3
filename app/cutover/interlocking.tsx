import { ChevronDown, ChevronRight } from "lucide-react";
import { data, Link, useSearchParams } from "react-router";
import { styled } from "styled-components";
import { takesPayments } from "#core/profiles/profile";
import { cutoversOf } from "#server/cutover/cutover";
import { firstLivePayments } from "#server/cutover/first-payment";
import { interlockingFrom, wouldChange } from "#server/cutover/interlocking";
import { carrierOf } from "#server/offers/carrier";
import { cutoverBy, viewSnapshot } from "#server/cutover/snapshots";
import { nameOf, nameWithAccount } from "#server/offers/names";
import { runtimeContext } from "../context";
import { localeOf, mustStandAt, standAt } from "../frame/storefront-context";
import { mustOperate, mustOwn } from "../people/session";
import { useLive } from "../parts/live";
import { Mark, type Meaning, Says } from "../parts/marks";
import { PageHead, Row, Sheet, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { stationLink } from "../frame/station-link";
import { color } from "../theme/tokens";
import { Changes } from "./changes";
import type { ConnectionView } from "./connection-view";
import { Guide } from "./guide";
import { Movements } from "./movements";
import { Back, LeverBar } from "./moves";
import { press } from "./presses";
import { SnapshotSheet } from "./snapshot-sheet";
import { spoken } from "../words/spoken.server";
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
        replaces: replaces.map(nameWithAccount),
        only: only?.offer.id ?? null,
        offers: mine.map((one) => ({
          id: one.offer.id,
          label: nameOf(one),
          live: one.live !== null && pair.live === "live",
          off: one.offer.offInTest,
        })),
        othersLive: now.offers.some(
          (each) =>
            each.connection.id !== connection.id &&
            each.live !== null &&
            each.pair.live === "live" &&
            !each.offer.offInLive &&
            carrierOf(now, each.versions.live.profile, "live")?.offer.connection.id !== connection.id,
        ),
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
        // For a week after the cutover a first real payment is asked for; then it is no news any more.
        guided: pair.live === "live" && rt.now() - (pair.movedAt ?? 0) < WEEK,
      };
    });
  return spoken({
    connections,
    looked: looked ? { connection: looked.connectionId, ...(await viewSnapshot(rt, now, looked)) } : null,
    locale: localeOf(storefront),
    shop: `${storefront.https ? "https" : "http"}://${storefront.domain}`,
  });
}

const WEEK = 7 * 86_400_000;

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

/** The connection that is opened: the one of the address, or the one that there is most to do about. */
function openOf(connections: readonly ConnectionView[], of: string | null, looked: string | null) {
  const named = connections.find((one) => one.id === (of ?? looked));
  if (named || of !== null) return named ?? null;
  return (
    connections.find((one) => one.live === "live" && one.gates.some((gate) => !gate.open)) ??
    connections.find((one) => one.pending && one.open) ??
    connections.find((one) => one.pending) ??
    (connections.length === 1 ? (connections[0] ?? null) : null)
  );
}

export default function InterlockingPage({ loaderData, params }: Route.ComponentProps) {
  const { connections, looked } = loaderData;
  const [search] = useSearchParams();
  const open = openOf(connections, search.get("of"), looked?.connection ?? null);
  const live = connections.filter((one) => one.live === "live");
  useLive(
    live.some((one) => one.guided && one.first?.state !== "refunded"),
    2000,
  );
  return (
    <>
      <PageHead>
        <Row $gap={1}>
          <h1>Cut over</h1>
          {live.length > 0 ? (
            <Says meaning="proven">
              {live.length} of {connections.length} live
            </Says>
          ) : (
            connections.length > 0 && <Says meaning="none">nothing is live on this storefront</Says>
          )}
        </Row>
      </PageHead>
      {connections.length === 0 ? (
        <Sheet>
          <p>
            There is no connection yet. <Link to={`/s/${params.storefront}/plan`}>Choose a provider</Link>
          </p>
        </Sheet>
      ) : (
        <>
          <Rows aria-label="Connections">
            {connections.map((one) => (
              <li key={one.id} id={one.id}>
                <Fold one={one} open={one === open} />
                {one === open && (
                  <Detail
                    one={one}
                    looked={looked?.connection === one.id ? looked : null}
                    storefrontId={params.storefront}
                    locale={loaderData.locale}
                    shop={loaderData.shop}
                  />
                )}
              </li>
            ))}
          </Rows>
          <LeverBar key={open?.id ?? ""} connections={connections} open={open} />
        </>
      )}
    </>
  );
}

const Rows = styled.ul`
  background: ${color.sheet};
  border: 1px solid ${color.rule};
  border-top: 3px solid ${color.ink};
  > li {
    border-bottom: 1px solid ${color.rule};
  }
`;
const Head = styled.div`
  display: grid;
  grid-template-columns: 1.2rem minmax(8rem, 13rem) 9rem minmax(0, 1fr);
  gap: 0.3rem 0.9rem;
  align-items: center;
  min-height: 2.3rem;
  padding: 0.2rem 1.1rem;
  h2 {
    font-size: 1rem;
  }
  a {
    color: ${color.ink};
    text-decoration: none;
  }
  a:hover {
    text-decoration: underline;
  }
  svg {
    color: ${color.inkSoft};
  }
  @media (max-width: 48rem) {
    grid-template-columns: 1.2rem minmax(0, 1fr) auto;
    > :last-child {
      grid-column: 2 / -1;
    }
  }
`;
const Opened = styled.div`
  padding: 0.2rem 1.1rem 1.1rem 3.2rem;
  @media (max-width: 48rem) {
    padding-left: 1.1rem;
  }
`;
const Halves = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1.1fr) minmax(0, 1fr);
  gap: 1rem 2.2rem;
  @media (max-width: 55rem) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
const Gates = styled.ol`
  border-top: 1.5px solid ${color.ink};
  li {
    display: grid;
    grid-template-columns: 1.2rem minmax(0, 1fr) auto;
    gap: 0 0.5rem;
    padding: 0.22rem 0;
    border-bottom: 1px solid ${color.rule};
    align-items: baseline;
  }
`;

type Looked = NonNullable<Route.ComponentProps["loaderData"]["looked"]>;

/** What there is to say of a connection in one line. */
function summaryOf(one: ConnectionView): { meaning: Meaning; says: string } {
  const closed = one.gates.filter((gate) => !gate.open);
  const first = closed[0];
  if (one.live === "live" && !one.pending)
    return first
      ? { meaning: "wrong", says: `${first.title}: no longer. ${first.says}` }
      : { meaning: "proven", says: "Live runs what is set. Nothing waits." };
  if (!one.pending) return { meaning: "none", says: "Nothing is offered that could go live." };
  const changes = one.changes.length + (one.version ? 1 : 0);
  const what =
    one.live === "live"
      ? `${changes} change${changes === 1 ? "" : "s"} wait${changes === 1 ? "s" : ""}`
      : "Ready";
  if (first)
    return {
      meaning: "waits",
      says: `${closed.length} of ${one.gates.length} gates closed. ${first.title}: ${first.says}`,
    };
  return { meaning: "waits", says: `${what}: every gate is open.` };
}

function Fold({ one, open }: { one: ConnectionView; open: boolean }) {
  const { meaning, says } = summaryOf(one);
  return (
    <Head>
      {open ? <ChevronDown size={16} aria-hidden /> : <ChevronRight size={16} aria-hidden />}
      <h2>
        <Link to={open ? "?of=none" : `?of=${one.id}`} aria-expanded={open} preventScrollReset>
          {one.name}
        </Link>
      </h2>
      <Stands live={one.live} />
      <Says meaning={meaning}>{says}</Says>
    </Head>
  );
}

function Detail({
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
  return (
    <Opened role="group" aria-label={`Interlocking of ${one.name}`}>
      <Stack $gap={0.9}>
        {one.guided && <Guide one={one} storefrontId={storefrontId} locale={locale} shop={shop} />}
        {one.offers.length > 1 && <Scope one={one} />}
        <Halves>
          <GateList one={one} storefrontId={storefrontId} />
          <Stack>
            <Changes one={one} />
            {one.history.length > 0 && (
              <Movements history={one.history} looked={looked?.id ?? null} connection={one.id} />
            )}
            {looked && <SnapshotSheet looked={looked} connection={one.name} />}
            {one.live === "live" && <Back one={one} />}
          </Stack>
        </Halves>
      </Stack>
    </Opened>
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
      <Link to={`?of=${one.id}`} aria-current={one.only === null ? "true" : undefined} preventScrollReset>
        all its offers
      </Link>
      {one.offers.map((offer) => (
        <Link
          key={offer.id}
          to={`?of=${one.id}&only=${offer.id}`}
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
            <span>
              <strong>{gate.title}</strong> <Small as="span">{gate.says}</Small>
            </span>
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
          </li>
        ))}
      </Gates>
    </Stack>
  );
}

const linkOf = (storefrontId: string, one: ConnectionView, gate: ConnectionView["gates"][number]) =>
  stationLink(storefrontId, gate.station, {
    connectionId: one.id,
    offerId: one.only ?? one.offers[0]?.id ?? null,
  });

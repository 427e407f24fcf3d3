import { data, Link, useSearchParams } from "react-router";
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
import { Says } from "../parts/marks";
import { PageHead, Row, Sheet } from "../parts/sheet";
import type { ConnectionView } from "./connection-view";
import { Detail } from "./detail";
import { Fold, Rows } from "./fold";
import { LeverBar } from "./moves";
import { press } from "./presses";
import { WithoutProviders } from "./without";
import { withoutProviders } from "./without.server";
import { spoken } from "../words/spoken.server";
import type { Route } from "./+types/interlocking";
import { t } from "../words/pages/cutover";

export const meta: Route.MetaFunction = () => [{ title: t("cut-over-zahlung") }];

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
    without: await withoutProviders(rt, now),
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
  if (!answer) throw data(t("that-cannot-be-done-here"), { status: 400 });
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
  const { connections, looked, without } = loaderData;
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
          <h1>{t("cut-over")}</h1>
          {live.length > 0 ? (
            <Says meaning="proven">
              {t("live-of-connections-live", { live: live.length, connections: connections.length })}
            </Says>
          ) : (
            connections.length > 0 && <Says meaning="none">{t("nothing-is-live-on-this")}</Says>
          )}
        </Row>
      </PageHead>
      {connections.length === 0 && without.offers.length === 0 ? (
        <Sheet>
          <p>
            {t("there-is-no-connection-yet", {
              link: (inner) => <Link to={`/s/${params.storefront}/plan`}>{inner}</Link>,
            })}
          </p>
        </Sheet>
      ) : (
        <>
          {connections.length > 0 && (
            <Rows aria-label={t("connections")}>
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
          )}
          <WithoutProviders without={without} open={search.get("of")} storefrontId={params.storefront} />
          {connections.length > 0 && <LeverBar key={open?.id ?? ""} connections={connections} open={open} />}
        </>
      )}
    </>
  );
}

import { Link, useLocation } from "react-router";
import { styled } from "styled-components";
import type { ConnectionTrack as SaidConnectionTrack, OfflineTrack as SaidOffline } from "#server/home";
import { Mark, type Meaning } from "../parts/marks";
import { color } from "../theme/tokens";
import type { Place } from "./stations";
import type { Spoken } from "../words/speak";
import { t } from "../words/pages/frame";

type ConnectionTrack = Spoken<SaidConnectionTrack>;
type OfflineTrack = Spoken<SaidOffline>;

const Nav = styled.nav`
  display: flex;
  flex-wrap: wrap;
  gap: 0.1rem 1.2rem;
  margin-bottom: 0.8rem;
  border-bottom: 1px solid ${color.rule};
  a {
    display: inline-flex;
    align-items: center;
    gap: 0.4rem;
    padding: 0.15rem 0 0.3rem;
    margin-bottom: -1px;
    color: ${color.inkSoft};
    text-decoration: none;
    border-bottom: 3px solid transparent;
  }
  a:hover {
    color: ${color.petrol};
    text-decoration: underline;
  }
  a[aria-current] {
    color: ${color.ink};
    font-weight: 700;
    border-color: ${color.ink};
  }
  @media (max-width: 48rem) {
    flex-wrap: nowrap;
    overflow-x: auto;
    white-space: nowrap;
  }
  @media print {
    display: none;
  }
`;

interface Tab {
  to: string;
  words: string;
  meaning?: Meaning;
}

const meaningAt = (one: ConnectionTrack, station: "connect"): Meaning => {
  const state = one.track.stations.find((entry) => entry.station === station)?.state;
  const wrong = one.track.block?.station === station && one.live === "live";
  return wrong ? "wrong" : state === "done" ? "proven" : "waits";
};

function tabsOf(
  place: Place,
  at: string,
  tracks: readonly ConnectionTrack[],
  offline: readonly OfflineTrack[],
): Tab[] {
  switch (place) {
    case "plan":
      return [
        { to: `${at}/plan`, words: t("providers") },
        { to: `${at}/plan/costs`, words: t("costs") },
        { to: `${at}/plan/list`, words: t("shortlist") },
        { to: "/profiles", words: t("profiles") },
      ];
    case "connect":
      return [
        ...tracks.map((one) => ({
          to: `${at}/connect/${one.connectionId}`,
          words: one.name,
          meaning: meaningAt(one, "connect"),
        })),
        { to: `${at}/plan`, words: t("connect-another") },
      ];
    case "offer":
      return [
        ...tracks.flatMap((one) =>
          one.offers.map((offer) => ({
            to: `${at}/offer/${offer.id}`,
            words: `${offer.name} (${one.name})`,
          })),
        ),
        ...offline.map((one) => ({ to: `${at}/offer/without/${one.offerId}`, words: one.name })),
        { to: `${at}/offer/order`, words: t("their-order") },
        { to: `${at}/offer/everywhere`, words: t("on-all-storefronts") },
        { to: `${at}/offer/alike`, words: t("several-at-once") },
        { to: `${at}/offer/baskets`, words: t("baskets") },
        { to: `${at}/offer/zones`, words: t("zones") },
        { to: `${at}/offer/stages`, words: t("order-stages") },
        { to: `${at}/offer/look`, words: t("look") },
        { to: `${at}/offer?add=1`, words: t("offer-another") },
      ];
    case "operate":
      return [
        { to: `${at}/operate`, words: t("payments") },
        { to: `${at}/operate/orders`, words: t("orders") },
        { to: `${at}/operate/subscriptions`, words: t("subscriptions") },
        { to: `${at}/operate/kept`, words: t("kept") },
        { to: `${at}/operate/to-capture`, words: t("to-capture") },
        { to: `${at}/operate/to-be-paid`, words: t("to-be-paid") },
        { to: `${at}/operate/fees`, words: t("fees") },
        { to: `${at}/operate/payouts`, words: t("payouts") },
        { to: `${at}/operate/findings`, words: t("findings") },
        { to: `${at}/operate/webhooks`, words: t("webhooks") },
        { to: `${at}/exchanges`, words: t("exchanges") },
        { to: "/jobs", words: t("background-work") },
        { to: "/audit", words: t("audit-trail") },
      ];
    case "shop":
      return [
        { to: `${at}/shop`, words: t("keys-stages-and-news") },
        { to: `${at}/shop/settings`, words: t("settings") },
        { to: "/storefronts/new", words: t("add-a-storefront") },
      ];
    default:
      return [];
  }
}

/** The pages of a station, the one looked at marked. */
export function Tabs({
  place,
  storefrontId,
  tracks,
  offline,
}: {
  place: Place;
  storefrontId: string;
  tracks: readonly ConnectionTrack[];
  offline: readonly OfflineTrack[];
}) {
  const { pathname, search } = useLocation();
  const at = `/s/${storefrontId}`;
  const tabs = tabsOf(place, at, tracks, offline);
  if (tabs.length === 0) return null;
  const isHere = ({ to }: Tab) => {
    const [path = "", query] = to.split("?");
    if (path !== pathname) return false;
    // With a mode in the address it is still the same page.
    return query === undefined || search.includes(query) || pathname.endsWith("/offer");
  };
  return (
    <Nav aria-label={t("pages-of-this-station")}>
      {tabs.map((tab) => (
        <Link key={tab.to} to={tab.to} aria-current={isHere(tab) ? "page" : undefined}>
          {tab.meaning && <Mark meaning={tab.meaning} size={12} />}
          {tab.words}
        </Link>
      ))}
    </Nav>
  );
}

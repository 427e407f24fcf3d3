import { useEffect, useState } from "react";
import {
  Autocomplete,
  Dialog,
  Header,
  Heading,
  Input,
  ListBox,
  ListBoxItem,
  ListBoxSection,
  Modal,
  ModalOverlay,
  SearchField,
  useFilter,
} from "react-aria-components";
import { useLocation, useNavigate, useRouteLoaderData } from "react-router";
import { styled } from "styled-components";
import { stations } from "#core/track";
import type { ConnectionTrack as SaidConnectionTrack, OfflineTrack as SaidOffline } from "#server/home";
import { color } from "../theme/tokens";
import type { Found } from "./find";
import type { loader } from "./signed-in";
import { stationLink } from "./station-link";
import { pathOn, stationKeys, stationNames } from "./stations";
import { onPersonAction } from "./person-actions";
import type { Spoken } from "../words/speak";
import { t } from "../words/pages/palette";

type ConnectionTrack = Spoken<SaidConnectionTrack>;
type OfflineTrack = Spoken<SaidOffline>;

const Over = styled(ModalOverlay)`
  position: fixed;
  inset: 0;
  background: rgb(0 0 0 / 0.35);
  display: grid;
  justify-items: center;
  align-items: start;
  padding: 8vh 1rem 1rem;
  z-index: 20;
`;
const Box = styled(Modal)`
  width: min(36rem, 100%);
  background: ${color.sheet};
  border: 2px solid ${color.ink};
  padding: 0.8rem 1rem;
  input {
    width: 100%;
    min-height: 2.4rem;
    padding: 0.3rem 0.6rem;
    border: 1.5px solid ${color.ruleStrong};
    background: ${color.sheet};
  }
  h2 {
    font-size: 1rem;
    margin-bottom: 0.4rem;
  }
  > section > p {
    margin-top: 0.5rem;
    font-size: 0.88rem;
    color: ${color.inkSoft};
  }
`;
const List = styled(ListBox)`
  max-height: 60vh;
  overflow: auto;
  margin-top: 0.4rem;
  outline: none;
  header {
    padding: 0.5rem 0.6rem 0.15rem;
    font-size: 0.84rem;
    font-weight: 700;
    color: ${color.inkSoft};
  }
`;
const Entry = styled(ListBoxItem)`
  display: flex;
  justify-content: space-between;
  gap: 1rem;
  padding: 0.28rem 0.6rem;
  cursor: pointer;
  outline: none;
  small {
    color: ${color.inkSoft};
    font-size: 0.88rem;
  }
  &[data-focused] {
    background: ${color.petrolSoft};
  }
  kbd {
    border: 1px solid ${color.ruleStrong};
    padding: 0 0.4rem;
  }
`;

interface Place {
  /** An address, or an act with a colon in front. */
  to: string;
  name: string;
  says?: string;
  shortcut?: string;
}

const WAIT = 180;

/** Payments that the words lead to, asked for when typing rests. */
function useFound(storefrontId: string, query: string): Found[] {
  const [found, setFound] = useState<{ query: string; list: Found[] }>({ query: "", list: [] });
  useEffect(() => {
    if (query.length < 3) return;
    const stop = new AbortController();
    const timer = setTimeout(() => {
      fetch(`/s/${storefrontId}/find?q=${encodeURIComponent(query)}`, { signal: stop.signal })
        .then(async (answer) => {
          if (answer.ok) setFound({ query, list: (await answer.json()) as Found[] });
        })
        // A question that was given up, or not answered, leads nowhere.
        .catch(() => undefined);
    }, WAIT);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [storefrontId, query]);
  return found.query === query ? found.list : [];
}

function placesOf(
  storefrontId: string,
  tracks: readonly ConnectionTrack[],
  offline: readonly OfflineTrack[],
): Record<string, Place[]> {
  const at = `/s/${storefrontId}`;
  const waiting = tracks.flatMap((one): Place[] => {
    const { block } = one.track;
    if (!block) return [];
    const to = stationLink(storefrontId, block.station, {
      connectionId: one.connectionId,
      offerId: one.offers[0]?.id ?? null,
    });
    return [{ to, name: block.action, says: `${one.name}: ${block.says}` }];
  });
  return {
    [t("places")]: [
      { to: at, name: t("home"), shortcut: "h" },
      ...stations.map((one) => ({
        to: `${at}/${one}`,
        name: stationNames[one],
        shortcut: stationKeys[one],
      })),
      { to: `${at}/shop`, name: t("the-shops-side-keys-stages"), shortcut: "s" },
      { to: `${at}/shop/settings`, name: t("settings-of-the-storefront") },
      { to: `${at}/offer/stages`, name: t("order-stages-of-all-offers") },
      { to: `${at}/offer/order`, name: t("order-of-offers") },
      { to: `${at}/offer/zones`, name: t("zones") },
      { to: `${at}/offer/everywhere`, name: t("on-all-storefronts-what-is") },
      { to: `${at}/offer/alike`, name: t("several-offers-at-once-set") },
      { to: `${at}/offer/baskets`, name: t("baskets-what-each-is-offered") },
      { to: `${at}/offer/look`, name: t("look-of-the-checkout-logo") },
      { to: `${at}/plan/costs`, name: t("costs") },
      { to: `${at}/plan/list`, name: t("shortlist") },
      { to: `${at}/operate?mode=live`, name: t("live-payments") },
      { to: `${at}/operate/to-be-paid?mode=live`, name: t("to-be-paid") },
      { to: `${at}/operate/subscriptions?mode=live`, name: t("subscriptions") },
      { to: `${at}/operate/kept?mode=live`, name: t("kept-what-shoppers-pay-with") },
      { to: `${at}/operate/webhooks?mode=live`, name: t("webhooks-received") },
      { to: `${at}/exchanges`, name: t("exchanges-with-providers") },
      { to: "/jobs", name: t("background-work") },
      { to: "/audit", name: t("audit-trail") },
      { to: "/people", name: t("people") },
      { to: "/profiles", name: t("profiles-of-providers") },
    ],
    [t("what-waits")]: [
      ...waiting,
      ...offline.flatMap(({ offerId, name, track: { block } }): Place[] =>
        block
          ? [{ to: `${at}/offer/without/${offerId}`, name: block.action, says: `${name}: ${block.says}` }]
          : [],
      ),
    ],
    [t("connections")]: tracks.map((one) => ({
      to: `${at}/connect/${one.connectionId}`,
      name: one.name,
      says: one.methods,
    })),
    [t("offers")]: [
      ...tracks.flatMap((one) =>
        one.offers.map((offer) => ({ to: `${at}/offer/${offer.id}`, name: offer.name, says: one.name })),
      ),
      ...offline.map(({ offerId, name }) => ({
        to: `${at}/offer/without/${offerId}`,
        name,
        says: t("without-a-provider"),
      })),
    ],
    [t("acts")]: [
      { to: `${at}/plan`, name: t("connect-a-provider") },
      { to: `${at}/offer?add=1`, name: t("offer-another-method") },
      { to: `${at}/rehearse`, name: t("run-cases") },
      { to: "/storefronts/new", name: t("add-a-storefront") },
      { to: "/profiles/install", name: t("install-a-profile") },
      { to: ":dark", name: t("use-the-dark-theme") },
      { to: ":light", name: t("use-the-light-theme") },
      { to: ":sign-out", name: t("sign-out") },
    ],
  };
}

const PAYMENTS = t("payments");

/** Whatever the application has, found by typing: places, storefronts, connections, offers, payments, what waits, acts. */
export default function Palette({
  storefrontId,
  tracks,
  offline,
  onClose,
}: {
  storefrontId: string;
  tracks: readonly ConnectionTrack[];
  offline: readonly OfflineTrack[];
  onClose: () => void;
}) {
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const data = useRouteLoaderData<typeof loader>("frame/signed-in");
  const { contains } = useFilter({ sensitivity: "base" });
  const [query, setQuery] = useState("");
  const found = useFound(storefrontId, query.trim());
  const places = placesOf(storefrontId, tracks, offline);
  const sections: [string, Place[]][] = [
    [
      PAYMENTS,
      found.map((one) => ({
        to: `/s/${storefrontId}/operate/${one.id}`,
        name: one.order,
        says: one.says,
      })),
    ],
    ...Object.entries(places),
    [
      t("storefronts"),
      (data?.storefronts ?? [])
        .filter((one) => one.id !== storefrontId)
        .map((one) => ({ to: pathOn(one.id, pathname), name: one.name })),
    ],
  ];
  // Payments were looked for by more than is told of them here.
  const fits = (text: string, words: string, { parentKey }: { parentKey?: unknown }) =>
    parentKey === PAYMENTS ||
    words
      .split(/\s+/)
      .filter(Boolean)
      .every((word) => contains(text, word));
  return (
    <Over isOpen isDismissable onOpenChange={(open) => !open && onClose()}>
      <Box>
        <Dialog>
          <Heading slot="title">{t("find-anything")}</Heading>
          <Autocomplete filter={fits} inputValue={query} onInputChange={setQuery}>
            <SearchField aria-label={t("find-anything")} autoFocus>
              <Input placeholder={t("a-place-connection-offer-order")} />
            </SearchField>
            <List
              aria-label={t("what-was-found")}
              renderEmptyState={() => <p>{t("nothing-is-called-that")}</p>}
              onAction={(key) => {
                onClose();
                const to = String(key).replace(/^\d+ /, "");
                if (to.startsWith(":")) onPersonAction(to.slice(1), (there) => void navigate(there));
                else void navigate(to);
              }}
            >
              {sections.map(
                ([title, list], section) =>
                  list.length > 0 && (
                    <ListBoxSection key={title} id={title}>
                      <Header>{title}</Header>
                      {list.map((place) => (
                        <Entry
                          key={place.to + place.name}
                          id={`${section} ${place.to}`}
                          textValue={`${place.name} ${place.says ?? ""}`}
                        >
                          <span>
                            {place.name} {place.says && <small>{place.says}</small>}
                          </span>
                          {place.shortcut && <kbd>{place.shortcut}</kbd>}
                        </Entry>
                      ))}
                    </ListBoxSection>
                  ),
              )}
            </List>
          </Autocomplete>
          <p>
            <kbd>/</kbd>{" "}
            {t("search-kbd-or-ctrl-k", { kbd: <kbd>?</kbd>, keys: (inner) => <kbd>{inner}</kbd> })}
          </p>
        </Dialog>
      </Box>
    </Over>
  );
}

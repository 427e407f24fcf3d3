import { ChevronDown, Flag, Search, User } from "lucide-react";
import {
  Form,
  Link,
  useLocation,
  useMatches,
  useNavigate,
  useRouteLoaderData,
  useSearchParams,
} from "react-router";
import { styled } from "styled-components";
import type { ConnectionTrack as SaidConnectionTrack, OfflineTrack as SaidOffline } from "#server/home";
import { MenuButton } from "../parts/menu-button";
import { color } from "../theme/tokens";
import { Keys } from "./keys";
import { lookingOf } from "./looking";
import { ModeSwitch } from "./mode-switch";
import { onPersonAction } from "./person-actions";
import type { loader } from "./signed-in";
import { pathOn } from "./stations";
import { Wordmark } from "./wordmark";
import type { Spoken } from "../words/speak";
import { t } from "../words/pages/frame";

type ConnectionTrack = Spoken<SaidConnectionTrack>;
type OfflineTrack = Spoken<SaidOffline>;

const Across = styled.header`
  border-bottom: 1px solid ${color.rule};
`;
const Bar = styled.div`
  display: flex;
  align-items: center;
  gap: 0.9rem;
  padding: 0.5rem 1.5rem;
  max-width: 84rem;
  margin: 0 auto;
  > a {
    text-decoration: none;
  }
  > :is(button, a) {
    flex: none;
  }
  > .storefront {
    flex: 0 1 auto;
    min-width: 4.5rem;
  }
  @media (max-width: 48rem) {
    gap: 0.45rem;
    padding: 0.5rem 0.7rem;
    .wide {
      display: none;
    }
  }
  /* The palette beside it finds the same. */
  @media (max-width: 30rem) {
    > form[role="search"] {
      display: none;
    }
    > .storefront {
      margin-right: auto;
    }
  }
`;
const Find = styled(Form)`
  display: flex;
  flex: 1 1 8rem;
  max-width: 26rem;
  min-width: 2.2rem;
  margin-left: auto;
  align-items: center;
  gap: 0.4rem;
  padding: 0 0.6rem;
  border: 1.5px solid ${color.rule};
  background: ${color.sheet};
  &:focus-within {
    border-color: ${color.petrol};
  }
  svg {
    flex: none;
  }
  input {
    flex: 1;
    min-width: 0;
    min-height: 2.1rem;
    border: 0;
    background: none;
    outline: none;
    text-overflow: ellipsis;
  }
  input::placeholder {
    color: ${color.inkSoft};
    opacity: 1;
  }
`;
const Waiting = styled(Link)`
  display: inline-flex;
  align-items: center;
  gap: 0.35rem;
  font-weight: 700;
  color: ${color.madder};
`;

/** The mark, the storefront switch, the mode that is looked at, search, what waits for a person, and the person. */
export function Top({
  storefrontId,
  tracks,
  offline,
}: {
  storefrontId: string | null;
  tracks: readonly ConnectionTrack[];
  offline: readonly OfflineTrack[];
}) {
  const data = useRouteLoaderData<typeof loader>("frame/signed-in");
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const [search] = useSearchParams();
  const looking = lookingOf(useMatches().at(-1)?.loaderData);
  const person = data?.person;
  const who = t("name-may-look", {
    name: person?.name ?? t("you"),
    viewer: person?.role === "viewer" ? "yes" : "no",
  });
  const storefronts = data?.storefronts ?? [];
  const here = storefronts.find((one) => one.id === storefrontId);
  const waiting = tracks.filter((one) => one.track.stations.some((at) => at.state === "attention")).length;
  return (
    <Across>
      <Bar>
        <Link to={storefrontId ? `/s/${storefrontId}` : "/"} aria-label={t("zahlung-home")}>
          <Wordmark />
        </Link>
        {storefronts.length > 0 && (
          <MenuButton
            className="storefront"
            name={t("storefront-name-choose-another", { name: here?.name ?? "" })}
            label={t("storefronts")}
            choices={[...storefronts, "rule", { id: "+", name: t("add-a-storefront") }]}
            onAction={(id) => void navigate(id === "+" ? "/storefronts/new" : pathOn(id, pathname))}
          >
            <span>{here?.name ?? t("storefronts")}</span>
            <ChevronDown size={15} aria-hidden />
          </MenuButton>
        )}
        {looking && <ModeSwitch looking={looking} />}
        {storefrontId && (
          <Find role="search" action={`/s/${storefrontId}/operate`} key={search.get("q") ?? ""}>
            <Search size={16} aria-hidden />
            <input
              name="q"
              aria-label={t("find-a-payment-order-reference")}
              placeholder={t("order-reference-e-mail-last")}
              maxLength={80}
              defaultValue={search.get("q") ?? ""}
            />
            <input type="hidden" name="mode" value="both" />
          </Find>
        )}
        {waiting > 0 && storefrontId && (
          <Waiting to={`/s/${storefrontId}`} aria-label={t("waiting-connections-need-a-person", { waiting })}>
            <Flag size={16} aria-hidden /> {waiting}
          </Waiting>
        )}
        {storefrontId && <Keys storefrontId={storefrontId} tracks={tracks} offline={offline} />}
        <MenuButton
          ends
          name={who}
          label={t("you")}
          choices={[
            { id: "people", name: t("people-and-your-password") },
            { id: "profiles", name: t("profiles-of-providers") },
            { id: "audit", name: t("audit-trail") },
            { id: "jobs", name: t("background-work") },
            "rule",
            { id: "light", name: t("light") },
            { id: "dark", name: t("dark") },
            { id: "system", name: t("as-the-system") },
            "rule",
            { id: "sign-out", name: t("sign-out") },
          ]}
          onAction={(id) => onPersonAction(id, (to) => void navigate(to))}
        >
          <User size={16} aria-hidden />
          <span className="wide">{who}</span>
          <ChevronDown size={15} aria-hidden className="wide" />
        </MenuButton>
        <form id="sign-out" method="post" action="/sign-out" hidden />
      </Bar>
    </Across>
  );
}

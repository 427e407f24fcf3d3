import { NavLink } from "react-router";
import { styled } from "styled-components";
import type { Station, StationState } from "#core/track";
import { stations } from "#core/track";
import type { ConnectionTrack } from "#server/home";
import { color } from "../theme/tokens";

export const stationNames: Record<Station, string> = {
  plan: "Plan",
  connect: "Connect",
  offer: "Offer",
  rehearse: "Rehearse",
  "cut-over": "Cut over",
  operate: "Operate",
};

/** Letters that lead to the stations. */
export const stationKeys: Record<Station, string> = {
  plan: "p",
  connect: "c",
  offer: "o",
  rehearse: "r",
  "cut-over": "u",
  operate: "w",
};

const rank: Record<StationState, number> = { attention: 3, "under-way": 2, ahead: 1, done: 0 };

/** Of several tracks the one that is furthest behind at a station speaks for the line. */
function stateAt(tracks: readonly ConnectionTrack[], station: Station): StationState {
  const states = tracks.map(
    (one) => one.track.stations.find((entry) => entry.station === station)?.state ?? "ahead",
  );
  return states.reduce<StationState>(
    (worst, state) => (rank[state] > rank[worst] ? state : worst),
    states[0] ?? "ahead",
  );
}

const Nav = styled.nav`
  border-bottom: 1px solid ${color.rule};
  background: ${color.sheet};
  overflow-x: auto;
`;
const Stops = styled.ol`
  display: grid;
  grid-template-columns: repeat(6, minmax(5.6rem, 1fr));
  max-width: 84rem;
  margin: 0 auto;
  padding: 0 0.4rem;
`;
const Stop = styled.li<{ $state: StationState; $last: boolean }>`
  position: relative;
  a {
    position: relative;
    display: grid;
    justify-items: start;
    gap: 0.2rem;
    padding: 0.75rem 0.6rem 0.55rem 1.1rem;
    color: ${color.ink};
    text-decoration: none;
    font-weight: 600;
  }
  a:hover span {
    color: ${color.petrol};
    text-decoration: underline;
  }
  a[aria-current="page"] span {
    color: ${color.petrol};
  }
  a[aria-current="page"]::after {
    content: "";
    position: absolute;
    inset: auto 0.6rem 0 1.1rem;
    height: 4px;
    background: ${color.petrol};
  }
  &::before {
    content: "";
    display: ${({ $last }) => ($last ? "none" : "block")};
    position: absolute;
    top: calc(0.75rem + 8px);
    left: calc(1.1rem + 20px);
    right: calc(-1.1rem + 4px);
    border-top: 3px ${({ $state }) => ($state === "done" ? "solid" : "dotted")}
      ${({ $state }) => ($state === "done" ? color.ink : color.ruleStrong)};
  }
`;

/** A station as a shape: empty, half, full, or a flag where something is wrong. */
export function StationShape({ state, size = 18 }: { state: StationState; size?: number }) {
  const stroke = state === "attention" ? color.madder : color.ink;
  return (
    <svg width={size} height={size} viewBox="0 0 18 18" aria-hidden="true" focusable="false">
      {state === "attention" ? (
        <path d="M9 1 17 9 9 17 1 9z" fill={stroke} />
      ) : (
        <rect
          x="2"
          y="2"
          width="14"
          height="14"
          fill={state === "done" ? stroke : color.sheet}
          stroke={state === "ahead" ? color.ruleStrong : stroke}
          strokeWidth="2.5"
        />
      )}
      {state === "under-way" && <path d="M3 3h6v12H3z" fill={stroke} />}
      {state === "attention" && <path d="M9 5v5M9 12v1.6" stroke={color.sheet} strokeWidth="2" />}
    </svg>
  );
}

const stateWords: Record<StationState, string> = {
  done: "done",
  "under-way": "under way",
  ahead: "ahead",
  attention: "needs a person",
};

/** The six stations with the state of the chosen storefront on them: the navigation. */
export function Line({ storefrontId, tracks }: { storefrontId: string; tracks: readonly ConnectionTrack[] }) {
  return (
    <Nav aria-label="Stations">
      <Stops>
        {stations.map((station, i) => {
          const state = stateAt(tracks, station);
          return (
            <Stop key={station} $state={state} $last={i === stations.length - 1}>
              <NavLink
                to={`/s/${storefrontId}/${station}`}
                prefetch="intent"
                aria-keyshortcuts={stationKeys[station]}
              >
                <StationShape state={state} />
                <span>{stationNames[station]}</span>
                <em className="quiet">, {stateWords[state]}</em>
              </NavLink>
            </Stop>
          );
        })}
      </Stops>
    </Nav>
  );
}

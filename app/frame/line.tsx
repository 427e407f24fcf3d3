import { useEffect, useRef } from "react";
import { NavLink } from "react-router";
import { styled } from "styled-components";
import type { Passed } from "#core/track";
import { color } from "../theme/tokens";
import { type Place, stationKeys, stationNames } from "./stations";
import { t } from "../words/pages/frame";

const Nav = styled.nav`
  border-bottom: 1px solid ${color.rule};
  background: ${color.sheet};
  overflow-x: auto;
  scroll-snap-type: x proximity;
`;
const Stops = styled.ol`
  display: grid;
  grid-template-columns: repeat(6, minmax(6.6rem, 1fr)) minmax(5.2rem, 0.7fr);
  max-width: 84rem;
  min-width: max-content;
  margin: 0 auto;
  padding: 0 0.4rem;
`;
const Stop = styled.li<{ $through: boolean; $last: boolean }>`
  position: relative;
  scroll-snap-align: start;
  a,
  > span {
    position: relative;
    display: grid;
    grid-template-columns: 1fr auto;
    align-items: baseline;
    column-gap: 0.4rem;
    padding: 0.7rem 0.8rem 0.5rem 1.1rem;
    color: ${color.ink};
    text-decoration: none;
    font-weight: 600;
  }
  svg {
    grid-column: 1 / -1;
    margin-bottom: 0.2rem;
    overflow: visible;
  }
  small {
    font-weight: 400;
    font-size: 0.82rem;
    color: ${color.inkSoft};
    white-space: nowrap;
    font-variant-numeric: tabular-nums;
  }
  a:hover .name {
    color: ${color.petrol};
    text-decoration: underline;
  }
  a[aria-current] .name {
    color: ${color.petrol};
  }
  a[aria-current]::after {
    content: "";
    position: absolute;
    inset: auto 0.8rem 0 1.1rem;
    height: 4px;
    background: ${color.petrol};
  }
  &::before {
    content: "";
    display: ${({ $last }) => ($last ? "none" : "block")};
    position: absolute;
    top: calc(0.7rem + 8px);
    left: calc(1.1rem + 22px);
    right: calc(-1.1rem + 3px);
    border-top: 3px ${({ $through }) => ($through ? "solid" : "dotted")}
      ${({ $through }) => ($through ? color.ink : color.ruleStrong)};
  }
`;

/** A station as a box that fills from below as tracks pass it, with a flag where one of them needs a person. */
export function Gauge({ share, attention }: { share: number; attention: boolean }) {
  return (
    <svg width="18" height="18" viewBox="0 0 18 18" aria-hidden="true" focusable="false">
      <rect
        x="1.5"
        y="1.5"
        width="15"
        height="15"
        fill={color.sheet}
        stroke={share > 0 ? color.ink : color.ruleStrong}
        strokeWidth="2.4"
      />
      <rect x="3" y={3 + 12 * (1 - share)} width="12" height={12 * share} fill={color.ink} />
      {attention && (
        <path d="M18-5 26 3 18 11 10 3z" fill={color.madder} stroke={color.sheet} strokeWidth="1.5" />
      )}
    </svg>
  );
}

/** The shop at the other end of the line: a buffer stop with a door. */
const ShopSign = () => (
  <svg width="18" height="18" viewBox="0 0 18 18" aria-hidden="true" focusable="false">
    <path d="M1.5 7 9 1.5 16.5 7v9.5h-15z" fill="none" stroke={color.ink} strokeWidth="2.4" />
    <path d="M7 16v-5h4v5" fill={color.ink} />
  </svg>
);

/** Said of a station by voice, since the filling of its box is not. */
const spoken = (count: number, { passed, attention }: Passed) =>
  t("passed-of-count-passed-needs", { passed, count, hasAttention: attention ? "yes" : "no" });

/** The six stations, each with how many of the storefront's tracks have passed it, and the shop at the end. */
export function Line({
  storefrontId,
  passed,
  tracks,
  here,
}: {
  storefrontId: string | null;
  passed: readonly Passed[];
  /** How many tracks there are. */
  tracks: number;
  here: Place | null;
}) {
  const nav = useRef<HTMLElement>(null);
  // On a narrow screen the line swipes; where one is, it is seen.
  useEffect(() => {
    const lit = nav.current?.querySelector<HTMLElement>("[aria-current]");
    if (nav.current && lit)
      nav.current.scrollLeft = (lit.closest("li")?.offsetLeft ?? 0) - nav.current.clientWidth / 3;
  }, [here]);
  return (
    <Nav aria-label={t("stations")} ref={nav}>
      <Stops>
        {passed.map((one) => {
          const { station } = one;
          const share = tracks > 0 ? one.passed / tracks : 0;
          const inside = (
            <>
              <Gauge share={share} attention={one.attention} />
              <span className="name">{stationNames[station]}</span>
              {tracks > 0 && (
                <small aria-hidden="true">{t("passed-of-tracks", { passed: one.passed, tracks })}</small>
              )}
              {tracks > 0 && <em className="quiet">{spoken(tracks, one)}</em>}
            </>
          );
          return (
            <Stop key={station} $through={share === 1} $last={false}>
              {storefrontId ? (
                <NavLink
                  to={`/s/${storefrontId}/${station}`}
                  prefetch="intent"
                  aria-current={here === station ? "page" : undefined}
                  aria-keyshortcuts={stationKeys[station]}
                >
                  {inside}
                </NavLink>
              ) : (
                <span>{inside}</span>
              )}
            </Stop>
          );
        })}
        <Stop $through={false} $last>
          {storefrontId ? (
            <NavLink
              to={`/s/${storefrontId}/shop`}
              prefetch="intent"
              aria-current={here === "shop" ? "page" : undefined}
              aria-keyshortcuts="s"
            >
              <ShopSign />
              <span className="name">{t("shop")}</span>
            </NavLink>
          ) : (
            <span>
              <ShopSign />
              <span className="name">{t("shop")}</span>
            </span>
          )}
        </Stop>
      </Stops>
    </Nav>
  );
}

import { Link } from "react-router";
import { styled } from "styled-components";
import { type Station, stations, type StationState, type Track as SaidTrack } from "#core/track";
import type { ConnectionTrack as SaidConnectionTrack, OfflineTrack as SaidOffline } from "#server/home";
import { stationLink } from "../frame/station-link";
import { stationNames } from "../frame/stations";
import { color } from "../theme/tokens";
import type { Spoken } from "../words/speak";
import { t } from "../words/pages/home";

type Track = Spoken<SaidTrack>;
type ConnectionTrack = Spoken<SaidConnectionTrack>;
type OfflineTrack = Spoken<SaidOffline>;

/** One siding of the diagram. */
interface Siding {
  id: string;
  name: string;
  /** Where its name leads, and what stands behind it. */
  to: string;
  says: string;
  title: string;
  live: ConnectionTrack["live"];
  track: Track;
  /** Where what blocks it is mended. */
  blockTo: string | null;
}

const ofConnection = (storefrontId: string, one: ConnectionTrack): Siding => ({
  id: one.connectionId,
  name: one.name,
  to: `/s/${storefrontId}/connect/${one.connectionId}`,
  says: one.offers.map((offer) => offer.name).join(", ") || one.methods,
  title: one.methods,
  live: one.live,
  track: one.track,
  blockTo:
    one.track.block &&
    stationLink(storefrontId, one.track.block.station, {
      connectionId: one.connectionId,
      offerId: one.offers[0]?.id ?? null,
    }),
});

function ofOffline(storefrontId: string, one: OfflineTrack): Siding {
  const to = `/s/${storefrontId}/offer/without/${one.offerId}`;
  const live = one.live ? "live" : "never";
  const { name, track } = one;
  return { id: one.offerId, name, to, says: t("without-a-provider"), title: name, live, track, blockTo: to };
}

/** Columns continue the line above: six stations, and the shop. */
export const lineColumns = "repeat(6, minmax(6.6rem, 1fr)) minmax(5.2rem, 0.7fr)";

const Scroller = styled.div`
  /* A signal of the first row stands out above it. */
  padding-top: 0.4rem;
  margin-top: -0.4rem;
  overflow-x: auto;
  margin-inline: -1.1rem;
  @media (max-width: 40rem) {
    margin-inline: -0.9rem;
  }
`;
const Diagram = styled.ol<{ $dense: boolean }>`
  min-width: 46rem;
  --row: ${({ $dense }) => ($dense ? "2.95rem" : "3.6rem")};
`;
const Track_ = styled.li`
  position: relative;
  display: grid;
  grid-template-columns: ${lineColumns};
  grid-template-rows: 1.35rem auto;
  min-height: var(--row);
  &:hover {
    background: ${color.sheet};
  }
`;
const Cell = styled.span<{ $column: number; $reached: boolean; $live: boolean }>`
  position: relative;
  grid-row: 1;
  grid-column: ${({ $column }) => $column};
  padding-left: 1.1rem;
  &::after {
    content: "";
    position: absolute;
    top: 0.62rem;
    left: calc(1.1rem + 17px);
    right: -1.1rem;
    border-top: 3px ${({ $reached, $live }) => ($live ? "solid" : $reached ? "dashed" : "dotted")}
      ${({ $reached }) => ($reached ? color.ink : color.rule)};
  }
  &:nth-child(5)::after {
    right: 1.2rem;
  }
  &:nth-child(6)::after {
    display: none;
  }
`;
/** Where a live track joins the trunk, which leads down to the main line. */
const Trunk = styled.i<{ $from: "joins" | "passes" }>`
  position: absolute;
  grid-column: 5 / 6;
  grid-row: 1 / 3;
  right: 1.2rem;
  top: ${({ $from }) => ($from === "joins" ? "0.62rem" : "0")};
  bottom: 0;
  border-left: 4px solid ${color.ink};
`;
const Words = styled.span<{ $span: string }>`
  grid-row: 2;
  grid-column: ${({ $span }) => $span};
  padding: 0 0.4rem 0 1.1rem;
  min-width: 0;
  font-size: 0.84rem;
  line-height: 1.25;
  color: ${color.inkSoft};
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  a,
  strong {
    color: ${color.ink};
    font-size: 0.95rem;
    font-weight: 700;
  }
  &.says a {
    color: ${color.petrol};
    font-size: inherit;
  }
`;
const Name = styled(Words)`
  z-index: 1;
  a {
    text-decoration: none;
  }
  a:hover {
    text-decoration: underline;
  }
`;

const reachedBy = (track: Track) =>
  track.stations.reduce((last, one, i) => (one.state === "done" || one.state === "attention" ? i : last), 0);

/** One diagram for the storefront: each connection a row, its siding joining the one main line where it is live. */
export function TrackDiagram({
  storefrontId,
  tracks,
  offline,
  children,
}: {
  storefrontId: string;
  tracks: readonly ConnectionTrack[];
  offline: readonly OfflineTrack[];
  /** The main line's own row. */
  children: React.ReactNode;
}) {
  const sidings = [
    ...tracks.map((one) => ofConnection(storefrontId, one)),
    ...offline.map((one) => ofOffline(storefrontId, one)),
  ];
  const lastLive = sidings.reduce((last, one, i) => (one.live === "live" ? i : last), -1);
  const firstLive = sidings.findIndex((one) => one.live === "live");
  return (
    <Scroller tabIndex={0} role="region" aria-label={t("track-diagram")}>
      <Diagram $dense={sidings.length > 6}>
        {sidings.map((one, i) => (
          <Row
            key={one.id}
            one={one}
            trunk={one.live === "live" ? "joins" : firstLive >= 0 && i > firstLive ? "passes" : null}
            through={one.live === "live" && i > firstLive && firstLive >= 0 && lastLive >= i}
          />
        ))}
        {children}
      </Diagram>
    </Scroller>
  );
}

function Row({
  one,
  trunk,
  through,
}: {
  one: Siding;
  trunk: "joins" | "passes" | null;
  /** Whether the trunk comes down from a row above. */
  through: boolean;
}) {
  const { track, live, name, blockTo: to } = one;
  const isLive = live === "live";
  const reached = reachedBy(track);
  const { block } = track;
  const blockAt = block ? Math.max(0, stations.indexOf(block.station as Station)) : -1;
  const at = block?.station === "shop" ? 6 : blockAt;
  return (
    <Track_
      aria-label={`${name}: ${isLive ? t("live") : live === "fallen-back" ? t("fallen-back") : t("test-only")}`}
    >
      {track.stations.map((entry, column) => (
        <Cell
          key={entry.station}
          $column={column + 1}
          $reached={column < reached || (isLive && column < 5)}
          $live={isLive && column === 4}
          title={`${stationNames[entry.station]}: ${entry.says}`}
        >
          <Sign state={entry.state} live={isLive && column >= 4} />
          {column === at && <Signal wrong={track.stations.some((each) => each.state === "attention")} />}
          <em className="quiet">{`${stationNames[entry.station]}: ${entry.says}`}</em>
        </Cell>
      ))}
      {trunk && <Trunk $from={trunk} />}
      {through && <Trunk $from="passes" />}
      <Name $span={block && startOf(at, isLive) <= 2 ? "1 / 2" : "1 / 3"} title={one.title}>
        <Link to={one.to}>{name}</Link> {one.says}
      </Name>
      {block && to && (
        <Words className="says" $span={`${startOf(at, isLive)} / ${isLive ? 6 : 8}`} title={block.says}>
          <Link to={to}>{block.action}</Link> {block.says}
        </Words>
      )}
      {(!block || isLive) && <Words $span="6 / 7">{track.stations[5]?.says}</Words>}
    </Track_>
  );
}

/** The column in which the words of a block begin: at its signal, but never with too little room behind it. */
const startOf = (at: number, isLive: boolean) => Math.max(2, Math.min(at + 1, isLive ? 3 : 4));

/** A station on a siding is drawn dashed, on the main line solid. */
function Sign({ state, live }: { state: StationState; live: boolean }) {
  const stroke = state === "attention" ? color.madder : state === "ahead" ? color.ruleStrong : color.ink;
  return (
    <svg width="18" height="18" viewBox="0 0 18 18" aria-hidden="true" focusable="false">
      {state === "attention" ? (
        <path d="M9 0 18 9 9 18 0 9z" fill={stroke} />
      ) : (
        <rect
          x="2"
          y="2"
          width="14"
          height="14"
          fill={state === "done" ? stroke : color.sheet}
          stroke={stroke}
          strokeWidth="2.2"
          strokeDasharray={live || state === "done" ? undefined : "4 2.5"}
        />
      )}
      {state === "attention" && <path d="M9 5v5M9 12v1.6" stroke={color.sheet} strokeWidth="2" />}
      {state === "under-way" && <path d="M3 3h6v12H3z" fill={stroke} />}
      {state === "done" && <path d="M5.2 9 8 12l5-6" stroke={color.sheet} strokeWidth="2.2" fill="none" />}
    </svg>
  );
}

const Post = styled.svg`
  position: absolute;
  top: -0.35rem;
  left: calc(1.1rem + 22px);
  z-index: 1;
`;

/** A signal at stop, its arm level. */
function Signal({ wrong }: { wrong: boolean }) {
  const fill = wrong ? color.madder : color.brass;
  return (
    <Post width="20" height="22" viewBox="0 0 20 22" aria-hidden="true" focusable="false">
      <path d="M3 22V1" stroke={fill} strokeWidth="3" />
      <path d="M3 2h16v7H3z" fill={fill} />
    </Post>
  );
}

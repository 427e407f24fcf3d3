import { Link } from "react-router";
import { styled } from "styled-components";
import type { StationState } from "#core/track";
import type { ConnectionTrack } from "#server/home";
import { stationNames } from "../frame/line";
import { stationLink } from "../frame/station-link";
import { Button } from "../parts/form";
import { Note, Says } from "../parts/marks";
import { Row, Sheet, Stack } from "../parts/sheet";
import { color } from "../theme/tokens";

const X = [60, 220, 380, 540, 740, 920];
const SIDING = 92;
const MAIN = 40;
/** Stations on the siding, until the points at “Cut over” lead onto the main line. */
const yOf = (i: number, live: boolean) => (i < 4 ? SIDING : i === 4 && !live ? (SIDING + MAIN) / 2 : MAIN);

/** Whether a station's name stands below it: those on the siding, and the points while they lead nowhere yet. */
const below = (i: number, live: boolean) => i < 4 || (i === 4 && !live);

const Scroller = styled.div`
  overflow-x: auto;
  svg {
    display: block;
    min-width: 46rem;
    width: 100%;
    height: auto;
  }
  text {
    font-family: var(--text);
    font-size: 14px;
    fill: ${color.ink};
  }
  .name {
    font-weight: 700;
  }
  .says {
    font-size: 12px;
    fill: ${color.inkSoft};
  }
`;

/** A connection as a track: test runs on the siding below, live on the main line above, joined by the points. */
export function TrackDiagram({
  storefrontId,
  connection,
}: {
  storefrontId: string;
  connection: ConnectionTrack;
}) {
  const { track, live, name, methods } = connection;
  const isLive = live === "live";
  const reached = track.stations.reduce((last, one, i) => (one.state === "done" ? i : last), 0);
  const blockAt = track.block ? track.stations.findIndex((one) => one.station === track.block?.station) : -1;
  return (
    <Sheet aria-label={`Track of ${name}`}>
      <Stack>
        <Row $gap={1}>
          <h2>{name}</h2>
          <span>{methods}</span>
          {isLive ? (
            <Says meaning="proven">Live</Says>
          ) : live === "fallen-back" ? (
            <Says meaning="waits">Fallen back to test</Says>
          ) : (
            <Says meaning="none">Test only</Says>
          )}
        </Row>
        <Scroller tabIndex={0} role="region" aria-label="Track diagram">
          <svg
            viewBox="0 0 1000 160"
            role="img"
            aria-label={track.stations.map((one) => `${stationNames[one.station]}: ${one.says}`).join(". ")}
          >
            <Rails isLive={isLive} reached={reached} />
            {track.stations.map((one, i) => (
              <g key={one.station} transform={`translate(${X[i] ?? 0} ${yOf(i, isLive)})`}>
                <StationSign state={one.state} live={i >= 4} />
                <text className="name" y={below(i, isLive) ? 34 : -22} textAnchor="middle">
                  {stationNames[one.station]}
                </text>
                <text className="says" y={below(i, isLive) ? 51 : 30} textAnchor="middle">
                  {short(one.says)}
                </text>
              </g>
            ))}
            {blockAt >= 0 && (
              <Signal x={(X[blockAt] ?? 0) + (blockAt < 4 ? 62 : -78)} y={yOf(blockAt, isLive)} />
            )}
          </svg>
        </Scroller>
        {track.block && (
          <Note meaning={track.block.says.startsWith("Every gate") ? "proven" : isLive ? "wrong" : "waits"}>
            <Row $gap={1}>
              <span>{track.block.says}</span>
              <Button as={Link} to={stationLink(storefrontId, track.block.station, connection)} $kind="main">
                {track.block.action}
              </Button>
            </Row>
          </Note>
        )}
      </Stack>
    </Sheet>
  );
}

const short = (says: string) => (says.length > 26 ? `${says.slice(0, 25)}…` : says);

/** The siding is drawn as sleepers and a dashed rail; the main line is solid. */
function Rails({ isLive, reached }: { isLive: boolean; reached: number }) {
  const end = reached >= 3 ? 640 : (X[reached] ?? 60);
  return (
    <g fill="none">
      <path d={`M20 ${MAIN}H980`} stroke={isLive ? color.ink : color.rule} strokeWidth={isLive ? 5 : 3} />
      <path d={`M${X[0]} ${SIDING}H640`} stroke={color.rule} strokeWidth="3" strokeDasharray="7 5" />
      <path d={`M${X[0]} ${SIDING}H${end}`} stroke={color.ink} strokeWidth="4" strokeDasharray="7 5" />
      <path
        d={`M640 ${SIDING} L${(X[4] ?? 0) - 0} ${isLive ? MAIN : (SIDING + MAIN) / 2}`}
        stroke={isLive ? color.ink : color.ruleStrong}
        strokeWidth="4"
        strokeDasharray={isLive ? undefined : "7 5"}
      />
      {!isLive && (
        <path
          d={`M${X[4]} ${(SIDING + MAIN) / 2} L${(X[4] ?? 0) + 44} ${MAIN + 8}`}
          stroke={color.rule}
          strokeWidth="3"
          strokeDasharray="3 6"
        />
      )}
    </g>
  );
}

function StationSign({ state, live }: { state: StationState; live: boolean }) {
  const stroke = state === "attention" ? color.madder : state === "ahead" ? color.ruleStrong : color.ink;
  return (
    <g>
      {state === "attention" ? (
        <path d="M0-13 13 0 0 13-13 0z" fill={stroke} />
      ) : (
        <rect
          x="-11"
          y="-11"
          width="22"
          height="22"
          fill={state === "done" ? stroke : color.sheet}
          stroke={stroke}
          strokeWidth="3"
          strokeDasharray={live || state === "done" ? undefined : "5 3"}
        />
      )}
      {state === "under-way" && <path d="M-9.5-9.5h9.5v19h-9.5z" fill={stroke} />}
      {state === "done" && <path d="M-5 0-1 4.5 6-4.5" stroke={color.sheet} strokeWidth="2.6" fill="none" />}
    </g>
  );
}

/** A signal at stop, its arm level. */
function Signal({ x, y }: { x: number; y: number }) {
  return (
    <g transform={`translate(${x} ${y})`} stroke={color.madder} fill={color.madder}>
      <path d="M0 12V-26" strokeWidth="3" />
      <rect x="0" y="-26" width="24" height="8" />
    </g>
  );
}

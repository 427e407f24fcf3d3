import { Link, useLocation } from "react-router";
import { styled } from "styled-components";
import type { ConnectionTrack } from "#server/home";
import { Button } from "../parts/form";
import { Row } from "../parts/sheet";
import { color } from "../theme/tokens";
import { stationLink } from "./station-link";

const Strip = styled.aside`
  margin-top: 1.3rem;
  padding: 0.7rem 1.3rem;
  border: 1.5px solid ${color.ink};
  border-left-width: 6px;
  background: ${color.sheet};
`;

/** On a station that is done: what blocks the next one, one press away. Home says it at the signal itself. */
export function NextStation({
  storefrontId,
  tracks,
}: {
  storefrontId: string;
  tracks: readonly ConnectionTrack[];
}) {
  const { pathname } = useLocation();
  const here = pathname.split("/")[3];
  const next = tracks.find(
    ({ track: { block, stations } }) =>
      block !== null &&
      block.station !== here &&
      stations.some((one) => one.station === here && one.station !== "plan" && one.state === "done"),
  );
  if (!next?.track.block) return null;
  const { station, says, action } = next.track.block;
  return (
    <Strip aria-label="What comes next">
      <Row $gap={1}>
        <span>
          <strong>Next:</strong> {says}
        </span>
        <Button as={Link} to={stationLink(storefrontId, station, next)}>
          {action}
        </Button>
      </Row>
    </Strip>
  );
}

import { Link } from "react-router";
import { styled } from "styled-components";
import type { Step as SaidStep } from "#core/track";
import type { ConnectionTrack as SaidConnectionTrack } from "#server/home";
import { Button } from "../parts/form";
import { color } from "../theme/tokens";
import { stationLink } from "./station-link";
import { type Place, stationNames } from "./stations";
import type { Spoken } from "../words/speak";
import { t } from "../words/pages/frame";

type Step = Spoken<SaidStep>;
type ConnectionTrack = Spoken<SaidConnectionTrack>;

const Strip = styled.aside<{ $wrong: boolean }>`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.3rem 0.9rem;
  margin-bottom: 0.9rem;
  padding: 0.3rem 0.3rem 0.3rem 0.8rem;
  border-left: 5px solid ${({ $wrong }) => ($wrong ? color.madder : color.brass)};
  background: ${({ $wrong }) => ($wrong ? color.madderSoft : color.brassSoft)};
  > p {
    flex: 1 1 18rem;
    min-width: 0;
  }
  a {
    min-height: 1.9rem;
    background: ${color.sheet};
  }
`;
const Way = styled.details`
  position: relative;
  summary {
    cursor: pointer;
    color: ${color.petrol};
    text-decoration: underline;
    text-underline-offset: 0.18em;
    padding: 0.2rem 0;
    list-style: none;
  }
  summary::-webkit-details-marker {
    display: none;
  }
  ol {
    position: absolute;
    right: 0;
    z-index: 6;
    width: min(34rem, 88vw);
    margin-top: 0.3rem;
    padding: 0.3rem 0;
    background: ${color.sheet};
    border: 1.5px solid ${color.ink};
  }
  li {
    display: grid;
    grid-template-columns: 5.4rem minmax(0, 1fr);
    gap: 0.7rem;
    padding: 0.3rem 0.9rem;
  }
  li a {
    min-height: 0;
  }
`;

const nameOf = (station: Place) => (station === "shop" ? t("shop") : stationNames[station]);

/** What comes next, whose it is, and the whole way from there to live. */
export function NextStep({
  storefrontId,
  one,
  here,
  own,
}: {
  storefrontId: string;
  one: ConnectionTrack;
  here: Place | null;
  /** Whether the page is about this very track. */
  own: boolean;
}) {
  const { block, way, stations } = one.track;
  if (!block) return null;
  const to = (step: Step) =>
    stationLink(storefrontId, step.station, {
      connectionId: one.connectionId,
      offerId: one.offers[0]?.id ?? null,
    });
  const wrong = one.live === "live" && stations.some((entry) => entry.state === "attention");
  const further = way.length - 1;
  return (
    <Strip aria-label={t("what-comes-next")} $wrong={wrong}>
      <p>
        <strong>{t("next-for-name", { name: one.name })}</strong>{" "}
        {/* Where it is done, it is said beside its cause; here it is not said twice. */}
        {own && block.station === here ? t("what-is-still-open-on") : block.says}
      </p>
      {further > 0 && (
        <Way>
          <summary>
            {t("further-more-steps-to-live", { further, live: one.live === "live" ? "yes" : "no" })}
          </summary>
          <ol>
            {way.slice(1).map((step) => (
              <li key={step.station + step.says}>
                <Link to={to(step)}>{nameOf(step.station)}</Link>
                <span>{step.says}</span>
              </li>
            ))}
          </ol>
        </Way>
      )}
      {!(own && block.station === here) && (
        <Button as={Link} to={to(block)}>
          {block.action}
        </Button>
      )}
    </Strip>
  );
}

import { Link } from "react-router";
import { styled } from "styled-components";
import { stationLink } from "../frame/station-link";
import { Mark } from "../parts/marks";
import { Row, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { color } from "../theme/tokens";
import { Changes } from "./changes";
import type { ConnectionView, Looked } from "./connection-view";
import { Guide } from "./guide";
import { Movements } from "./movements";
import { Back } from "./moves";
import { SnapshotSheet } from "./snapshot-sheet";
import { t } from "../words/pages/cutover";

export const Opened = styled.div`
  padding: 0.2rem 1.1rem 1.1rem 3.2rem;
  @media (max-width: 48rem) {
    padding-left: 1.1rem;
  }
`;
const Halves = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1.1fr) minmax(0, 1fr);
  gap: 1rem 2.2rem;
  @media (max-width: 55rem) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
const Gates = styled.ol`
  border-top: 1.5px solid ${color.ink};
  li {
    display: grid;
    grid-template-columns: 1.2rem minmax(0, 1fr) auto;
    gap: 0 0.5rem;
    padding: 0.22rem 0;
    border-bottom: 1px solid ${color.rule};
    align-items: baseline;
  }
`;

/** The gates of one connection with their proof, and the exact changes beside them. */
export function Detail({
  one,
  looked,
  storefrontId,
  locale,
  shop,
}: {
  one: ConnectionView;
  looked: Looked | null;
  storefrontId: string;
  locale: string;
  shop: string;
}) {
  return (
    <Opened role="group" aria-label={t("interlocking-of-name", { name: one.name })}>
      <Stack $gap={0.9}>
        {one.guided && <Guide one={one} storefrontId={storefrontId} locale={locale} shop={shop} />}
        {one.offers.length > 1 && <Scope one={one} />}
        <Halves>
          <GateList one={one} storefrontId={storefrontId} />
          <Stack>
            <Changes one={one} />
            {one.history.length > 0 && (
              <Movements history={one.history} looked={looked?.id ?? null} connection={one.id} />
            )}
            {looked && <SnapshotSheet looked={looked} connection={one.name} />}
            {one.live === "live" && <Back one={one} />}
          </Stack>
        </Halves>
      </Stack>
    </Opened>
  );
}

/** Which of a connection's offers the lever is about: all of them, or one. */
function Scope({ one }: { one: ConnectionView }) {
  return (
    <Row role="group" aria-label={t("what-the-lever-of-name", { name: one.name })}>
      <Small as="span">{t("moves")}</Small>
      <Link to={`?of=${one.id}`} aria-current={one.only === null ? "true" : undefined} preventScrollReset>
        {t("all-its-offers")}
      </Link>
      {one.offers.map((offer) => (
        <Link
          key={offer.id}
          to={`?of=${one.id}&only=${offer.id}`}
          aria-current={one.only === offer.id ? "true" : undefined}
          preventScrollReset
        >
          {t("only-label", { label: offer.label })}
        </Link>
      ))}
    </Row>
  );
}

function GateList({ one, storefrontId }: { one: ConnectionView; storefrontId: string }) {
  return (
    <Stack>
      <h3>{t("gates")}</h3>
      <Gates>
        {one.gates.map((gate) => (
          <li key={gate.id}>
            <Mark meaning={gate.open ? "proven" : "wrong"} />
            <span>
              <strong>{gate.title}</strong> <Small as="span">{gate.says}</Small>
            </span>
            {gate.open ? (
              gate.at ? (
                <Small as="span">
                  <When at={gate.at} />
                </Small>
              ) : (
                <span />
              )
            ) : (
              <Link to={linkOf(storefrontId, one, gate)}>{t("open-it")}</Link>
            )}
          </li>
        ))}
      </Gates>
    </Stack>
  );
}

const linkOf = (storefrontId: string, one: ConnectionView, gate: ConnectionView["gates"][number]) =>
  stationLink(storefrontId, gate.station, {
    connectionId: one.id,
    offerId: one.only ?? one.offers[0]?.id ?? null,
  });

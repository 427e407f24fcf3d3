import { Link, useFetcher } from "react-router";
import { styled } from "styled-components";
import { offlineStates } from "#core/ways/offline/states";
import { offlineLacks } from "#server/offers/offline";
import { fieldId } from "../../parts/error-summary";
import { Button, Wrong } from "../../parts/form";
import { Says } from "../../parts/marks";
import { Row, Stack } from "../../parts/sheet";
import { When } from "../../parts/when";
import { spoken } from "../../words/spoken.server";
import { OfferSheet } from "../offer-sheet";
import { mustFindOffer, pressedOn, sheetView } from "../sheet-view.server";
import { More, SwitchOff } from "../switches";
import { OfflineFields } from "./offline-fields";
import type { Route } from "./+types/edit-offline";
import { t } from "../../words/pages/ways-offline";

export const meta: Route.MetaFunction = () => [{ title: t("offer-zahlung") }];

export async function loader(args: Route.LoaderArgs) {
  const here = await mustFindOffer(args.context, args.params, "offline");
  return spoken({
    ...(await sheetView(here, args, () => true)),
    lacks: offlineLacks(here.now.storefront, here.found),
  });
}

export const action = (args: Route.ActionArgs) => pressedOn("offline", args);

export default function EditOffline({ loaderData }: Route.ComponentProps) {
  const { name, working, live, terms, off, lacks } = loaderData;
  return (
    <OfferSheet
      view={loaderData}
      provider={null}
      statesOf={() => offlineStates}
      way={(part) => <OfflineFields {...part} languages={terms.languages} />}
      head={
        <>
          <h1>{t("name-without-a-provider", { name: name || t("an-offer-without-a-name") })}</h1>
          <p>
            {t("working-revision-number-saved-when", {
              number: working.number,
              when: <When at={working.at} />,
              person: working.person,
              live: live ? t("revision-number", { number: live.number }) : t("nothing-yet"),
              link: (inner) => (
                <Link to={`/s/${loaderData.storefront.id}/offer/${loaderData.id}/revisions`}>{inner}</Link>
              ),
            })}
          </p>
          <PutLive working={working.number} live={live?.number ?? null} lacks={lacks} />
        </>
      }
      presses={
        <>
          <Row $gap={1}>
            <SwitchOff mode="test" off={off.test} />
            {live && <SwitchOff mode="live" off={off.live} />}
          </Row>
          <More
            live={live !== null && !off.live}
            open={loaderData.open}
            elsewhere={loaderData.elsewhere}
            label={name}
          />
        </>
      }
    />
  );
}

const Lacks = styled.ul`
  font-size: 0.93rem;
  a {
    display: inline-block;
    padding-block: 0.2rem;
  }
`;

/** Has live run what was saved, once nothing is lacking; what is, is said with the way to its field. */
function PutLive({
  working,
  live,
  lacks,
}: {
  working: number;
  live: number | null;
  lacks: { path: string; says: string }[];
}) {
  const fetcher = useFetcher<{ ok: boolean; clash?: string }>();
  if (lacks.length > 0)
    return (
      <Stack $gap={0.2}>
        <Says meaning="waits">{t("what-is-saved-cannot-go", { noLive: live === null ? "yes" : "no" })}</Says>
        <Lacks>
          {lacks.map((one) => (
            <li key={one.path + one.says}>
              <a href={`#${fieldId(one.path)}`}>{one.says}</a>
            </li>
          ))}
        </Lacks>
      </Stack>
    );
  if (live === working) return <Says meaning="proven">{t("live-runs-what-is-saved")}</Says>;
  return (
    <fetcher.Form method="post">
      <input type="hidden" name="revision" value={working} />
      <Row>
        <Button $kind="main" name="press" value="put-live" disabled={fetcher.state !== "idle"}>
          {t("put-revision-working-live", { working })}
        </Button>
        {fetcher.data && !fetcher.data.ok && <Wrong>{fetcher.data.clash}</Wrong>}
      </Row>
    </fetcher.Form>
  );
}

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

export const meta: Route.MetaFunction = () => [{ title: "Offer · Zahlung" }];

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
          <h1>{name || "An offer without a name"}, without a provider</h1>
          <p>
            Working revision {working.number}, saved <When at={working.at} /> by {working.person}. Test runs
            it; live runs {live ? `revision ${live.number}` : "nothing yet"}. All{" "}
            <Link to={`/s/${loaderData.storefront.id}/offer/${loaderData.id}/revisions`}>revisions</Link> are
            kept.
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
        <Says meaning="waits">
          {live === null ? "It cannot go live yet." : "What is saved cannot go live yet."}
        </Says>
        <Lacks>
          {lacks.map((one) => (
            <li key={one.path + one.says}>
              <a href={`#${fieldId(one.path)}`}>{one.says}</a>
            </li>
          ))}
        </Lacks>
      </Stack>
    );
  if (live === working) return <Says meaning="proven">live runs what is saved</Says>;
  return (
    <fetcher.Form method="post">
      <input type="hidden" name="revision" value={working} />
      <Row>
        <Button $kind="main" name="press" value="put-live" disabled={fetcher.state !== "idle"}>
          Put revision {working} live
        </Button>
        {fetcher.data && !fetcher.data.ok && <Wrong>{fetcher.data.clash}</Wrong>}
      </Row>
    </fetcher.Form>
  );
}

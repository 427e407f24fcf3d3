import { Play, Square } from "lucide-react";
import { data, Link, useFetcher } from "react-router";
import { styled } from "styled-components";
import { type CaseId, caseIds } from "#core/rehearsal/cases";
import { offersOf } from "#server/offers/offers";
import type { BoardCell } from "#server/rehearsal/board";
import { startRehearsal, stopRehearsal } from "#server/rehearsal/run";
import { mustFindStorefront, standAt } from "../frame/storefront-context";
import { mustOperate } from "../people/session";
import { Button, Wrong } from "../parts/form";
import { useLive } from "../parts/live";
import { Says } from "../parts/marks";
import { PageHead, Row, Sheet, Stack } from "../parts/sheet";
import { color, hatch } from "../theme/tokens";
import { Cells } from "./cells";
import type { Route } from "./+types/board";

export const meta: Route.MetaFunction = () => [{ title: "Rehearse · Zahlung" }];

export async function loader({ params, context }: Route.LoaderArgs) {
  const { now, standings } = await standAt(context, params.storefront);
  const order = now.offers.map((one) => one.offer.id);
  const place = ({ offer }: { offer: { offer: { id: string } } }) => order.indexOf(offer.offer.id);
  return (await standings())
    .flatMap((standing) => standing.offers)
    .sort((a, b) => place(a) - place(b))
    .map(({ offer: { offer, working, profile }, board, cases }) => ({
      id: offer.id,
      name: Object.values(working.document.wording)[0]?.label ?? offer.methodId,
      provider: profile.name,
      ...board,
      count: cases,
    }));
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const storefront = await mustFindStorefront(context, params.storefront);
  const form = await request.formData();
  const offer = (await offersOf(rt, storefront.id)).find((one) => one.offer.id === form.get("offer"));
  if (!offer) throw data("There is no such offer here.", { status: 404 });
  if (form.get("press") === "stop") {
    await stopRehearsal(rt, offer.offer.id);
    return { says: null };
  }
  const wanted = form.getAll("case").map(String);
  const cases = caseIds.filter((id) => wanted.includes(id));
  if (cases.length === 0) return data({ says: "Choose a case to run." }, { status: 422 });
  const started = await startRehearsal(rt, person.email, offer, cases);
  return started ? { says: null } : data({ says: "A rehearsal is running already." }, { status: 409 });
}

export default function Board({ loaderData, params }: Route.ComponentProps) {
  useLive(
    loaderData.some((one) => one.running !== null),
    400,
  );
  return (
    <>
      <PageHead>
        <div>
          <h1>Rehearse</h1>
          <p>
            Every case runs on the sandbox through the same gateway, intake and payments as a shopper’s money.
            A purchase you walk through the test checkout counts too.
          </p>
        </div>
      </PageHead>
      {loaderData.length === 0 && (
        <Sheet>
          <Stack>
            <p>There is nothing to rehearse before something is offered.</p>
            <Row>
              <Button as={Link} to={`/s/${params.storefront}/offer`} $kind="main">
                Make an offer
              </Button>
            </Row>
          </Stack>
        </Sheet>
      )}
      <Stack $gap={1.3}>
        {loaderData.map((one) => (
          <OfferBoard key={one.id} board={one} storefrontId={params.storefront} />
        ))}
      </Stack>
    </>
  );
}

type BoardView = Route.ComponentProps["loaderData"][number];

const Bar = styled.div`
  height: 0.7rem;
  border: 1.5px dashed ${color.ink};
  background: ${hatch};
  flex: 1 1 12rem;
  max-width: 24rem;
  svg {
    display: block;
    width: 100%;
    height: 100%;
  }
`;

function OfferBoard({ board, storefrontId }: { board: BoardView; storefrontId: string }) {
  const fetcher = useFetcher<{ says: string | null }>();
  const { cells, running, count } = board;
  const run = (cases: readonly CaseId[]) => {
    const form = new FormData();
    form.set("offer", board.id);
    for (const id of cases) form.append("case", id);
    void fetcher.submit(form, { method: "post" });
  };
  const required = cells.filter((cell) => cell.required);
  const groups = [
    { title: "Every offer needs these", list: required.filter((cell) => cell.because === null) },
    {
      title: "This offer needs these, because of what it uses",
      list: required.filter((cell) => cell.because),
    },
    { title: "This offer does not need these", list: cells.filter((cell) => !cell.required) },
  ];
  return (
    <Sheet aria-label={`Cases of ${board.name}`}>
      <Stack>
        <Row $gap={1}>
          <h2>
            {board.name} through {board.provider}
          </h2>
          {count.green === count.required ? (
            <Says meaning="proven">all {count.required} required cases green</Says>
          ) : (
            <Says meaning="waits">{`${count.green} of ${count.required} required cases green`}</Says>
          )}
        </Row>
        <Row $gap={1}>
          {running ? (
            <>
              <Button
                type="button"
                disabled={running.stopping}
                onClick={() => void fetcher.submit({ offer: board.id, press: "stop" }, { method: "post" })}
              >
                <Square size={14} aria-hidden /> {running.stopping ? "Stopping…" : "Stop"}
              </Button>
              <Bar
                role="progressbar"
                aria-label="Rehearsal"
                aria-valuenow={running.done}
                aria-valuemin={0}
                aria-valuemax={running.total}
              >
                <svg viewBox="0 0 100 1" preserveAspectRatio="none">
                  <rect
                    width={(100 * running.done) / Math.max(1, running.total)}
                    height="1"
                    fill={color.ink}
                  />
                </svg>
              </Bar>
              <span role="status">
                {running.done} of {running.total}
              </span>
            </>
          ) : (
            <>
              <Button type="button" $kind="main" onClick={() => run(cells.map((cell) => cell.caseId))}>
                <Play size={14} aria-hidden /> Run all
              </Button>
              <Button
                type="button"
                onClick={() => run(required.filter((cell) => !isGreen(cell)).map((cell) => cell.caseId))}
                disabled={count.green === count.required}
              >
                Run what is not green
              </Button>
            </>
          )}
          <Wrong>{fetcher.data?.says}</Wrong>
        </Row>
        {groups.map(
          ({ title, list }) =>
            list.length > 0 && (
              <Stack $gap={0.4} key={title}>
                <h3>{title}</h3>
                <Cells cells={list} storefrontId={storefrontId} busy={running !== null} run={run} />
              </Stack>
            ),
        )}
      </Stack>
    </Sheet>
  );
}

const isGreen = (cell: BoardCell) => cell.proof?.state === "passed" && cell.proof.changed.length === 0;

import { Play, Square, X } from "lucide-react";
import { useRef } from "react";
import { data, Link, useFetcher, useSearchParams } from "react-router";
import { styled } from "styled-components";
import { caseGroups, type CaseId, caseIds, caseTitle, groupOf, rehearsalCases } from "#core/rehearsal/cases";
import { said } from "#core/said";
import { offersOf } from "#server/offers/offers";
import { nameOf } from "#server/offers/names";
import { startRehearsal, stopRehearsal } from "#server/rehearsal/run";
import { mustFindStorefront, standAt } from "../frame/storefront-context";
import { mustOperate } from "../people/session";
import { Button, Wrong } from "../parts/form";
import { useLive } from "../parts/live";
import { Says } from "../parts/marks";
import { PageHead, Row, Sheet, Small, Stack } from "../parts/sheet";
import { color, hatch } from "../theme/tokens";
import { type BoardColumn, Cell, isGreen } from "./cell";
import { CellProof } from "./cell-proof";
import { spoken } from "../words/spoken.server";
import type { Route } from "./+types/board";

export const meta: Route.MetaFunction = () => [{ title: "Rehearse · Zahlung" }];

export async function loader({ params, context }: Route.LoaderArgs) {
  const { now, standings } = await standAt(context, params.storefront);
  const order = now.offers.map((one) => one.offer.id);
  const place = ({ offer }: { offer: { offer: { id: string } } }) => order.indexOf(offer.offer.id);
  const columns = (await standings())
    .flatMap((standing) => standing.offers)
    .sort((a, b) => place(a) - place(b))
    .map(({ offer, board: { cells, running }, cases }): BoardColumn => ({
      id: offer.offer.id,
      name: nameOf(offer),
      account: offer.connection.name,
      running,
      cells: spoken(Object.fromEntries(cells.map(({ title: _, ...cell }) => [cell.caseId, cell]))),
      required: cases.required,
      green: cases.green,
    }));
  return spoken({
    columns,
    groups: caseGroups.map((group) => ({
      title: said(`cases.group.${group}`),
      cases: rehearsalCases
        .filter((one) => groupOf(one) === group)
        .map(({ id }) => ({ id, title: caseTitle(id), about: said(`cases.${id}.about`) })),
    })),
  });
}

type Answer = { says: string | null };

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const storefront = await mustFindStorefront(context, params.storefront);
  const form = await request.formData();
  const offers = await offersOf(rt, storefront.id);
  const stop = form.get("press") === "stop";
  // Each run names an offer and its cases, so that one press may run many offers side by side.
  const runs = form.getAll("run").map((text) => {
    const [offerId = "", list = ""] = String(text).split(" ");
    const wanted = list.split(",");
    return { offerId, cases: caseIds.filter((id) => wanted.includes(id)) };
  });
  const chosen = runs.map(({ offerId, cases }) => ({
    offer: offers.find((one) => one.offer.id === offerId),
    cases,
  }));
  if (chosen.some((one) => !one.offer)) throw data("There is no such offer here.", { status: 404 });
  if (stop) {
    await Promise.all(runs.map((one) => stopRehearsal(rt, one.offerId)));
    return { says: null } satisfies Answer;
  }
  const full = chosen.filter((one) => one.cases.length > 0);
  if (full.length === 0) return data<Answer>({ says: "Choose a case to run." }, { status: 422 });
  const started = await Promise.all(
    full.map(({ offer, cases }) => (offer ? startRehearsal(rt, person.email, offer, cases) : null)),
  );
  return started.some((one) => one !== null)
    ? data<Answer>({ says: null })
    : data<Answer>({ says: "These are running already." }, { status: 409 });
}

const Board = styled.div<{ $open: boolean }>`
  display: grid;
  grid-template-columns: minmax(0, 1fr) ${({ $open }) => ($open ? "minmax(20rem, 26rem)" : "")};
  gap: 1rem;
  align-items: start;
  @media (max-width: 60rem) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
const Scroller = styled.div`
  overflow-x: auto;
`;
const Matrix = styled.table<{ $dense: boolean }>`
  --row: ${({ $dense }) => ($dense ? "1.2rem" : "1.5rem")};
  font-size: 0.92rem;
  th {
    font-weight: 400;
    text-align: left;
    padding: 0;
  }
  thead th {
    vertical-align: bottom;
    padding: 0 0.25rem 0.3rem;
    min-width: 5.4rem;
    max-width: 8.5rem;
  }
  thead th:first-child {
    min-width: 13rem;
  }
  tbody tr:first-child th {
    padding-top: 0.25rem;
    line-height: 1.2;
    font-size: 0.8rem;
    font-weight: 700;
    color: ${color.inkSoft};
    border-bottom: 1px solid ${color.ruleStrong};
  }
  tbody th[scope="row"] {
    position: sticky;
    left: 0;
    background: ${color.sheet};
    white-space: nowrap;
    padding-right: 0.6rem;
    border-bottom: 1px solid ${color.rule};
  }
  tbody td {
    border-bottom: 1px solid ${color.rule};
    padding: 0 0.15rem;
  }
`;
const ColumnHead = styled.div`
  display: grid;
  gap: 0.1rem;
  line-height: 1.2;
  strong,
  small {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  small {
    color: ${color.inkSoft};
    font-size: 0.8rem;
  }
`;
const Tiny = styled.button`
  display: inline-flex;
  align-items: center;
  gap: 0.3rem;
  min-height: 1.5rem;
  padding: 0 0.25rem;
  border: 1px solid transparent;
  background: none;
  color: ${color.petrol};
  font-size: 0.84rem;
  cursor: pointer;
  &:hover:not(:disabled) {
    border-color: ${color.petrol};
  }
  &:disabled {
    color: ${color.inkSoft};
    cursor: default;
  }
`;
const Bar = styled.div`
  height: 0.7rem;
  border: 1.5px dashed ${color.ink};
  background: ${hatch};
  flex: 1 1 10rem;
  max-width: 20rem;
  svg {
    display: block;
    width: 100%;
    height: 100%;
  }
`;

const arrows: Record<string, [number, number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
};

interface RunWish {
  offer: BoardColumn;
  cases: readonly CaseId[];
}

export default function BoardPage({ loaderData, params }: Route.ComponentProps) {
  const { columns, groups } = loaderData;
  const fetcher = useFetcher<Answer>();
  const [search, setSearch] = useSearchParams();
  const body = useRef<HTMLTableElement>(null);
  const running = columns.filter((one) => one.running !== null);
  useLive(running.length > 0, 400);
  const rows = groups.flatMap((group) => group.cases);
  const submit = (wishes: readonly RunWish[], press = "run") => {
    const form = new FormData();
    form.set("press", press);
    for (const { offer, cases } of wishes) form.append("run", `${offer.id} ${cases.join(",")}`);
    void fetcher.submit(form, { method: "post" });
  };
  const required = (offer: BoardColumn, only: (id: CaseId) => boolean = () => true) =>
    rows.map((one) => one.id).filter((id) => offer.cells[id]?.required && only(id));
  const idle = columns.filter((one) => one.running === null);
  const all = idle.map((offer) => ({ offer, cases: required(offer) }));
  const left = idle
    .map((offer) => ({ offer, cases: required(offer, (id) => !isGreen(offer.cells[id])) }))
    .filter((one) => one.cases.length > 0);
  const sum = (pick: (one: BoardColumn) => number) => columns.reduce((total, one) => total + pick(one), 0);
  const [green, needed] = [sum((one) => one.green), sum((one) => one.required)];
  const [openOffer, openCase] = (search.get("cell") ?? "").split(".");
  const opened = columns.find((one) => one.id === openOffer);
  const openedCase = rows.find((one) => one.id === openCase);
  const open = (cell: string | null) => {
    const next = new URLSearchParams(search);
    if (cell === null) next.delete("cell");
    else next.set("cell", cell);
    setSearch(next, { preventScrollReset: true, replace: true });
  };
  const onKeyDown = (event: React.KeyboardEvent) => {
    const step = arrows[event.key];
    const at = (event.target as HTMLElement).dataset.at?.split(" ").map(Number);
    if (!step || !at) return;
    event.preventDefault();
    const [row = 0, column = 0] = at;
    body.current?.querySelector<HTMLElement>(`[data-at="${row + step[0]} ${column + step[1]}"]`)?.focus();
  };
  if (columns.length === 0)
    return (
      <Sheet>
        <Stack>
          <h1>Rehearse</h1>
          <p>There is nothing to rehearse before something is offered.</p>
          <Row>
            <Button as={Link} to={`/s/${params.storefront}/offer`} $kind="main">
              Make an offer
            </Button>
          </Row>
        </Stack>
      </Sheet>
    );
  return (
    <>
      <PageHead>
        <Row $gap={1}>
          <h1>Rehearse</h1>
          {green === needed ? (
            <Says meaning="proven">all {needed} required cases passed</Says>
          ) : (
            <Says meaning="waits">{`${green} of ${needed} required cases passed`}</Says>
          )}
        </Row>
        <Row $gap={0.8}>
          {running.length > 0 ? (
            <Progress
              running={running}
              onStop={() =>
                submit(
                  running.map((offer) => ({ offer, cases: [] })),
                  "stop",
                )
              }
            />
          ) : (
            <>
              <Button type="button" $kind="main" onClick={() => submit(all)}>
                <Play size={14} aria-hidden /> Run all
              </Button>
              <Button type="button" onClick={() => submit(left)} disabled={left.length === 0}>
                Run what has not passed
              </Button>
            </>
          )}
        </Row>
      </PageHead>
      <Wrong>{fetcher.data?.says}</Wrong>
      <Board $open={opened !== undefined}>
        <Sheet aria-label="Cases">
          <Scroller tabIndex={0} role="region" aria-label="Cases by offer">
            <Matrix ref={body} $dense={rows.length > 20} aria-label="Cases by offer" onKeyDown={onKeyDown}>
              <thead>
                <tr>
                  <th scope="col">
                    <span className="quiet">Case</span>
                  </th>
                  {columns.map((one) => (
                    <th scope="col" key={one.id}>
                      <ColumnHead>
                        <strong title={one.name}>{one.name}</strong>
                        <small title={one.account}>{one.account}</small>
                        <Tiny
                          type="button"
                          disabled={one.running !== null}
                          onClick={() => submit([{ offer: one, cases: required(one) }])}
                          aria-label={`Run ${one.name} of ${one.account}`}
                        >
                          <Play size={11} aria-hidden /> {one.green} of {one.required}
                        </Tiny>
                      </ColumnHead>
                    </th>
                  ))}
                </tr>
              </thead>
              {groups.map((group, g) => (
                <tbody key={group.title}>
                  <tr>
                    <th colSpan={columns.length + 1} scope="colgroup">
                      {group.title}
                    </th>
                  </tr>
                  {group.cases.map((one, i) => {
                    const row = groups.slice(0, g).reduce((n, each) => n + each.cases.length, i);
                    const who = idle.filter((offer) => offer.cells[one.id]?.required);
                    return (
                      <tr key={one.id}>
                        <th scope="row" title={one.about}>
                          <Tiny
                            type="button"
                            disabled={who.length === 0}
                            onClick={() => submit(who.map((offer) => ({ offer, cases: [one.id] })))}
                            aria-label={`Run ${one.title} on every offer that needs it`}
                          >
                            <Play size={11} aria-hidden />
                          </Tiny>{" "}
                          {one.title}
                        </th>
                        {columns.map((offer, column) => (
                          <td key={offer.id}>
                            <Cell
                              at={`${row} ${column}`}
                              first={row === 0 && column === 0}
                              offer={offer}
                              caseId={one.id}
                              title={one.title}
                              open={opened?.id === offer.id && openCase === one.id}
                              onOpen={() => open(`${offer.id}.${one.id}`)}
                            />
                          </td>
                        ))}
                      </tr>
                    );
                  })}
                </tbody>
              ))}
            </Matrix>
          </Scroller>
          <Small>
            Outlined: this offer needs the case before live. A dot: it does not, so it is not run. The arrows
            move between cells; a press opens the proof.
          </Small>
        </Sheet>
        {opened && openedCase && (
          <Sheet aria-label={`${openedCase.title}, ${opened.name}`}>
            <Stack $gap={0.7}>
              <Row>
                <h2>{openedCase.title}</h2>
                <Button type="button" $kind="bare" onClick={() => open(null)} aria-label="Close the proof">
                  <X size={16} aria-hidden />
                </Button>
              </Row>
              <CellProof
                offer={opened}
                cell={opened.cells[openedCase.id]}
                about={openedCase.about}
                storefrontId={params.storefront}
                onRun={() => submit([{ offer: opened, cases: [openedCase.id] }])}
              />
            </Stack>
          </Sheet>
        )}
      </Board>
    </>
  );
}

function Progress({ running, onStop }: { running: readonly BoardColumn[]; onStop: () => void }) {
  const sum = (pick: (one: NonNullable<BoardColumn["running"]>) => number) =>
    running.reduce((total, one) => total + (one.running ? pick(one.running) : 0), 0);
  const [done, total] = [sum((one) => one.done), sum((one) => one.total)];
  const stopping = running.every((one) => one.running?.stopping);
  return (
    <>
      <Bar
        role="progressbar"
        aria-label="Rehearsal"
        aria-valuenow={done}
        aria-valuemin={0}
        aria-valuemax={total}
      >
        <svg viewBox="0 0 100 1" preserveAspectRatio="none">
          <rect width={(100 * done) / Math.max(1, total)} height="1" fill={color.ink} />
        </svg>
      </Bar>
      <span role="status">
        {done} of {total}
      </span>
      <Button type="button" disabled={stopping} onClick={onStop}>
        <Square size={14} aria-hidden /> {stopping ? "Stopping…" : "Stop"}
      </Button>
    </>
  );
}

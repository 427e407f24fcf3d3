import { Play, X } from "lucide-react";
import { data, Link, type ShouldRevalidateFunctionArgs, useFetcher, useSearchParams } from "react-router";
import { styled } from "styled-components";
import { caseIds, caseTitle, rehearsalCases } from "#core/rehearsal/cases";
import { caseGroups } from "#core/rehearsal/script";
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
import { CaseMatrix, requiredOf, type RunWish } from "./case-matrix";
import { type BoardColumn, isGreen } from "./cell";
import { CellProof } from "./cell-proof";
import { Progress } from "./progress";
import { spoken } from "../words/spoken.server";
import type { Route } from "./+types/board";
import { t } from "../words/pages/rehearsal";

export const meta: Route.MetaFunction = () => [{ title: t("rehearse-zahlung") }];

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
        .filter((one) => one.group === group)
        .map(({ id }) => ({ id, title: caseTitle(id), about: said(`cases.${id}.about`) })),
    })),
  });
}

const withoutCell = ({ search }: URL) => {
  const params = new URLSearchParams(search);
  params.delete("cell");
  return params.toString();
};

/** Which proof is open stands in the address and asks nothing of the server. */
export const shouldRevalidate = ({
  currentUrl,
  nextUrl,
  formMethod,
  defaultShouldRevalidate,
}: ShouldRevalidateFunctionArgs) => {
  const onlyCell = currentUrl.search !== nextUrl.search && withoutCell(currentUrl) === withoutCell(nextUrl);
  return formMethod === undefined && currentUrl.pathname === nextUrl.pathname && onlyCell
    ? false
    : defaultShouldRevalidate;
};

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
  if (chosen.some((one) => !one.offer)) throw data(t("there-is-no-such-offer"), { status: 404 });
  if (stop) {
    await Promise.all(runs.map((one) => stopRehearsal(rt, one.offerId)));
    return { says: null } satisfies Answer;
  }
  const full = chosen.filter((one) => one.cases.length > 0);
  if (full.length === 0) return data<Answer>({ says: t("choose-a-case-to-run") }, { status: 422 });
  const started = await Promise.all(
    full.map(({ offer, cases }) => (offer ? startRehearsal(rt, person.email, offer, cases) : null)),
  );
  return started.some((one) => one !== null)
    ? data<Answer>({ says: null })
    : data<Answer>({ says: t("these-are-running-already") }, { status: 409 });
}

const Board = styled.div<{ $open: boolean }>`
  display: grid;
  grid-template-columns: minmax(0, 1fr) ${({ $open }) => ($open ? "minmax(20rem, 26rem)" : "")};
  gap: 1rem;
  align-items: start;
  @media (max-width: 60rem) {
    grid-template-columns: minmax(0, 1fr);
    padding-bottom: ${({ $open }) => ($open ? "55vh" : "0")};
  }
`;
/** A proof stays in sight however far down the board its case is: beside it, or on a narrow page over its end. */
const ProofSheet = styled(Sheet)`
  position: sticky;
  top: 0.8rem;
  max-height: calc(100vh - 1.6rem);
  overflow: auto;
  @media (max-width: 60rem) {
    position: fixed;
    inset: auto 0 0;
    max-height: 55vh;
    z-index: 2;
  }
`;
export default function BoardPage({ loaderData, params }: Route.ComponentProps) {
  const { columns, groups } = loaderData;
  const fetcher = useFetcher<Answer>();
  const [search, setSearch] = useSearchParams();
  const running = columns.filter((one) => one.running !== null);
  useLive(running.length > 0, 800);
  const rows = groups.flatMap((group) => group.cases);
  const submit = (wishes: readonly RunWish[], press = "run") => {
    const form = new FormData();
    form.set("press", press);
    for (const { offer, cases } of wishes) form.append("run", `${offer.id} ${cases.join(",")}`);
    void fetcher.submit(form, { method: "post" });
  };
  const idle = columns.filter((one) => one.running === null);
  const all = idle.map((offer) => ({ offer, cases: requiredOf(rows, offer) }));
  const left = idle
    .map((offer) => ({ offer, cases: requiredOf(rows, offer, (id) => !isGreen(offer.cells[id])) }))
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
  if (columns.length === 0)
    return (
      <Sheet>
        <Stack>
          <h1>{t("rehearse")}</h1>
          <p>{t("there-is-nothing-to-rehearse")}</p>
          <Row>
            <Button as={Link} to={`/s/${params.storefront}/offer`} $kind="main">
              {t("make-an-offer")}
            </Button>
          </Row>
        </Stack>
      </Sheet>
    );
  return (
    <>
      <PageHead>
        <Row $gap={1}>
          <h1>{t("rehearse")}</h1>
          {green === needed ? (
            <Says meaning="proven">{t("all-needed-required-cases-passed", { needed })}</Says>
          ) : (
            <Says meaning="waits">{t("green-of-needed-required-cases", { green, needed })}</Says>
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
                <Play size={14} aria-hidden /> {t("run-all")}
              </Button>
              <Button type="button" onClick={() => submit(left)} disabled={left.length === 0}>
                {t("run-what-has-not-passed")}
              </Button>
            </>
          )}
        </Row>
      </PageHead>
      <Wrong>{fetcher.data?.says}</Wrong>
      <Board $open={opened !== undefined}>
        <Sheet aria-label={t("cases")}>
          <CaseMatrix
            columns={columns}
            groups={groups}
            opened={opened ? `${opened.id}.${openCase}` : null}
            onOpen={open}
            onRun={submit}
          />
          <Small>{t("outlined-this-offer-needs-the")}</Small>
        </Sheet>
        {opened && openedCase && (
          <ProofSheet aria-label={`${openedCase.title}, ${opened.name}`}>
            <Stack $gap={0.7}>
              <Row>
                <h2>{openedCase.title}</h2>
                <Button
                  type="button"
                  $kind="bare"
                  onClick={() => open(null)}
                  aria-label={t("close-the-proof")}
                >
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
          </ProofSheet>
        )}
      </Board>
    </>
  );
}

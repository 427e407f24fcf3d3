import { data, Link, useFetcher } from "react-router";
import { nameOf } from "#server/offers/names";
import { offerChanges } from "#core/offers/changes";
import { restoreRevision, revisionOf, revisionsOf } from "#server/offers/revisions";
import { anyOfferIn } from "#server/storefronts/now";
import { type Context, runtimeContext } from "../context";
import { SelectBox } from "../parts/select-box";
import { bothValues, ChangeInLine } from "./changed";
import { settingWords } from "./change-words";
import { localeOf, mustStandAt } from "../frame/storefront-context";
import { AskFirst } from "../parts/ask";
import { type Column, DataTable } from "../parts/data-table";
import { Button, Wrong } from "../parts/form";
import { ModePlate, Note } from "../parts/marks";
import { PageHead, Row, Sheet, Small, Stack, Table } from "../parts/sheet";
import { When } from "../parts/when";
import { mustOperate } from "../people/session";
import { spokenIn } from "../words/spoken.server";
import type { Route } from "./+types/revisions-page";
import { t } from "../words/pages/offers-changes";

export const meta: Route.MetaFunction = () => [{ title: t("revisions-zahlung") }];

async function mustFind(context: Context, params: Route.LoaderArgs["params"]) {
  const now = await mustStandAt(context, params.storefront);
  const found = anyOfferIn(now, params.offer);
  if (!found) throw data(t("there-is-no-such-offer"), { status: 404 });
  return { now, found };
}

const numberIn = (text: string | null): number | null => (/^\d{1,6}$/.test(text ?? "") ? Number(text) : null);

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const { now, found } = await mustFind(context, params);
  const rt = context.get(runtimeContext);
  const search = new URL(request.url).searchParams;
  const [one, other] = [numberIn(search.get("one")), numberIn(search.get("other"))];
  const [{ rows, next }, from, to] = await Promise.all([
    revisionsOf(rt, now, found.offer.id, numberIn(search.get("after"))),
    one === null ? null : revisionOf(rt, found.offer.id, one),
    other === null ? null : revisionOf(rt, found.offer.id, other),
  ]);
  const locale = localeOf(now.storefront);
  return spokenIn(locale).spoken({
    locale,
    name: nameOf(found),
    to: found.way === "offline" ? `without/${found.offer.id}` : found.offer.id,
    working: found.working.number,
    live: found.live?.number ?? null,
    ...{ rows, next: next === null ? null : String(next), first: !search.has("after") },
    compared:
      from && to
        ? {
            one: from.number,
            other: to.number,
            changes: offerChanges(from.document, to.document, now.zones),
          }
        : null,
  });
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const { now, found } = await mustFind(context, params);
  const form = await request.formData();
  const number = numberIn(String(form.get("restore") ?? ""));
  if (number === null) throw data(t("that-cannot-be-done-here"), { status: 400 });
  const saved = await restoreRevision(rt, person.email, now, found, number);
  const { say } = spokenIn(localeOf(now.storefront));
  if (saved.ok) return { restored: { of: number, as: saved.revision }, problem: null };
  const problem =
    "overtakenBy" in saved
      ? t("person-saved-revision-number-meanwhile", {
          person: saved.overtakenBy.person,
          number: saved.overtakenBy.number,
        })
      : saved.problems.map((one) => say(one)).join(" ");
  return data({ restored: null, problem }, { status: 409 });
}

type Loaded = Route.ComponentProps["loaderData"];
type ChangeView = NonNullable<Loaded["rows"][number]["changes"]>[number];

/** Every revision of an offer: what it changed, compared with any other, and taken up again. */
export default function Revisions({ loaderData, params }: Route.ComponentProps) {
  const { name, rows, next, first, working, live, locale, compared } = loaderData;
  const fetcher = useFetcher<typeof action>();
  const idle = fetcher.state === "idle";
  const columns: Column<Loaded["rows"][number]>[] = [
    {
      ...{ id: "number", head: t("revision"), always: true },
      cell: ({ number }) => (
        <>
          {number} {number === working && <ModePlate mode="test" />}{" "}
          {number === live && <ModePlate mode="live" />}
        </>
      ),
    },
    {
      ...{ id: "saved", head: t("saved"), always: true },
      cell: ({ createdAt, person }) => t("when-by-person", { when: <When at={createdAt} />, person }),
    },
    {
      ...{ id: "changes", head: t("what-it-changed"), always: true, prose: true },
      cell: ({ changes }) => <ChangeList changes={changes} locale={locale} />,
    },
    {
      ...{ id: "acts", head: "", always: true },
      cell: ({ number }) =>
        number !== working && (
          <AskFirst
            label={t("restore")}
            name={t("restore-revision-number", { number })}
            title={t("ask-restore-revision-number", { number })}
            says={t("it-becomes-the-working-revision")}
            yes={t("restore-it")}
            no={t("not-now")}
            disabled={!idle}
            onYes={() => void fetcher.submit({ restore: String(number) }, { method: "post" })}
          />
        ),
    },
  ];
  const numbers = Array.from({ length: working }, (_, i) => working - i);
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <Link to={`/s/${params.storefront}/offer/${loaderData.to}`}>{name}</Link>
          <h1>{t("revisions")}</h1>
          <p>{t("each-time-somebody-saved-and")}</p>
        </div>
      </PageHead>
      {idle && fetcher.data?.restored && (
        <Note meaning="proven">
          {t("revision-of-it-is-restored", { ofIt: fetcher.data.restored.of, as: fetcher.data.restored.as })}
        </Note>
      )}
      <Wrong>{idle ? fetcher.data?.problem : null}</Wrong>
      {working > 1 && (
        <Sheet>
          <Stack>
            <form method="get">
              <Row $align="end">
                <SelectBox
                  label={t("compare-revision")}
                  name="one"
                  defaultValue={String(compared?.one ?? live ?? 1)}
                  choices={numbers.map((number) => ({ id: String(number), name: String(number) }))}
                />
                <SelectBox
                  label={t("with-revision")}
                  name="other"
                  defaultValue={String(compared?.other ?? working)}
                  choices={numbers.map((number) => ({ id: String(number), name: String(number) }))}
                />
                <Button>{t("compare")}</Button>
              </Row>
            </form>
            {compared &&
              (compared.changes.length === 0 ? (
                <Small>
                  {t("revisions-one-and-other-say", { one: compared.one, other: compared.other })}
                </Small>
              ) : (
                <Table aria-label={t("what-differs")}>
                  <thead>
                    <tr>
                      <th scope="col">{t("setting")}</th>
                      <th scope="col">{t("revision-one", { one: compared.one })}</th>
                      <th scope="col">{t("revision-other", { other: compared.other })}</th>
                    </tr>
                  </thead>
                  <tbody>
                    {compared.changes.map((change) => {
                      const [one, other] = bothValues(change, locale);
                      return (
                        <tr key={change.path}>
                          <th scope="row">{settingWords(change.path)}</th>
                          <td>{one}</td>
                          <td>{other}</td>
                        </tr>
                      );
                    })}
                  </tbody>
                </Table>
              ))}
          </Stack>
        </Sheet>
      )}
      <Sheet>
        <Stack>
          <DataTable
            label={t("revisions")}
            columns={columns}
            rows={rows}
            rowKey={(row) => String(row.number)}
            next={next}
            first={first}
            empty={<Small>{t("nothing-was-saved-before-that")}</Small>}
          />
        </Stack>
      </Sheet>
    </Stack>
  );
}

function ChangeList({ changes, locale }: { changes: readonly ChangeView[] | null; locale: string }) {
  if (changes === null) return <Small as="span">{t("the-first")}</Small>;
  if (changes.length === 0) return <Small as="span">{t("nothing")}</Small>;
  return (
    <ul>
      {changes.map((change) => (
        <li key={change.path}>
          <ChangeInLine change={change} locale={locale} />
        </li>
      ))}
    </ul>
  );
}

import { data, Link, useFetcher } from "react-router";
import { nameOf } from "#server/offers/names";
import { offerChanges } from "#core/offers/changes";
import { restoreRevision, revisionOf, revisionsOf } from "#server/offers/revisions";
import { anyOfferIn } from "#server/storefronts/now";
import { type Context, runtimeContext } from "../context";
import { bothValues, ChangeInLine } from "./changed";
import { settingWords } from "./change-words";
import { localeOf, mustStandAt } from "../frame/storefront-context";
import { Wrong } from "../parts/form";
import { Note } from "../parts/marks";
import { CompareRevisions, RevisionTable, runsIn } from "../parts/revisions";
import { numberIn, revisionsAsked } from "../parts/revisions-asked";
import { PageHead, Stack } from "../parts/sheet";
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

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const { now, found } = await mustFind(context, params);
  const rt = context.get(runtimeContext);
  const { before, first, pair } = revisionsAsked(request);
  const [{ rows, next }, ...both] = await Promise.all([
    revisionsOf(rt, now, found.offer.id, before),
    ...(pair ?? []).map((number) => revisionOf(rt, found.offer.id, number)),
  ]);
  const [from, to] = both;
  const locale = localeOf(now.storefront);
  return spokenIn(locale).spoken({
    locale,
    name: nameOf(found),
    to: found.way === "offline" ? `without/${found.offer.id}` : found.offer.id,
    working: found.working.number,
    live: found.live?.number ?? null,
    ...{ rows, next, first },
    compared:
      from && to
        ? {
            pair: [from.number, to.number] as const,
            changes: offerChanges(from.document, to.document, now.zones),
          }
        : null,
  });
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const { now, found } = await mustFind(context, params);
  const form = await request.formData();
  const number = numberIn(form.get("restore"));
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

/** Every revision of an offer: what it changed, compared with any other, and taken up again. */
export default function Revisions({ loaderData, params }: Route.ComponentProps) {
  const { name, rows, next, first, working, live, locale, compared } = loaderData;
  const fetcher = useFetcher<typeof action>();
  const idle = fetcher.state === "idle";
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
        <CompareRevisions
          newest={working}
          live={live}
          compared={
            compared && {
              pair: compared.pair,
              differences: compared.changes.map((change) => ({
                ...{ key: change.path, name: settingWords(change.path) },
                values: bothValues(change, locale),
              })),
            }
          }
        />
      )}
      <RevisionTable
        {...{ rows, next, first }}
        newest={working}
        marked={runsIn({ working, live })}
        line={(change) => ({ key: change.path, says: <ChangeInLine change={change} locale={locale} /> })}
        consequence={t("it-becomes-the-working-revision")}
        onRestore={(number) => void fetcher.submit({ restore: String(number) }, { method: "post" })}
        disabled={!idle}
      />
    </Stack>
  );
}

import { useState } from "react";
import { data, Link, useFetcher } from "react-router";
import type { Zone } from "#core/offers/zones";
import { namesOfCodes } from "#core/places/names";
import { zoneRevisionOf, zoneRevisionsOf } from "#server/offers/zone-revisions";
import { restoreZone, zonesOf } from "#server/offers/zones";
import { runtimeContext } from "../context";
import { formOf } from "../form-of";
import { mustFindStorefront } from "../frame/storefront-context";
import { Button, Wrong } from "../parts/form";
import { Note, Says } from "../parts/marks";
import { CompareRevisions, RevisionTable } from "../parts/revisions";
import { numberIn, revisionsAsked } from "../parts/revisions-asked";
import { PageHead, Row, Sheet, Small, Stack } from "../parts/sheet";
import { mustOperate } from "../people/session";
import { t } from "../words/pages/offers-zones";
import { spoken } from "../words/spoken.server";
import type { Route } from "./+types/zone-revisions-page";
import { Effect } from "./zone-effect";
import { extentIn, extentText } from "./zone-extent";

export const meta: Route.MetaFunction = () => [{ title: t("revisions-of-zone-zahlung") }];

const lists = ["countries", "regions", "postcodes"] as const;
type Extent = Pick<Zone, "name" | (typeof lists)[number]> & { removed: boolean };

/** What stands in one setting of a zone in two revisions: a text, a list of places, or that it was removed. */
interface ZoneChange {
  field: "name" | "removed" | (typeof lists)[number];
  from: string[];
  to: string[];
}

/** What differs between two revisions of a zone. */
function zoneChanges(one: Extent, other: Extent): ZoneChange[] {
  const removal = ({ removed }: Extent) => (removed ? ["removed"] : []);
  const all: ZoneChange[] = [
    { field: "name", from: [one.name], to: [other.name] },
    ...lists.map((field) => ({ field, from: one[field], to: other[field] })),
    { field: "removed", from: removal(one), to: removal(other) },
  ];
  return all.filter(({ from, to }) => from.join() !== to.join());
}

const wordsFor = (field: ZoneChange["field"], values: readonly string[]): string =>
  field === "countries" ? namesOfCodes("region", values) : values.join(", ");

const names: Record<ZoneChange["field"], string> = {
  ...{ name: t("name"), countries: t("countries"), regions: t("regions"), postcodes: t("postcodes") },
  removed: t("zone"),
};

export async function loader({ request, params, context }: Route.LoaderArgs) {
  await mustFindStorefront(context, params.storefront);
  const rt = context.get(runtimeContext);
  const { before, first, pair } = revisionsAsked(request);
  const [zones, { rows, next }, newest, ...both] = await Promise.all([
    zonesOf(rt),
    zoneRevisionsOf(rt, params.zone, before),
    zoneRevisionsOf(rt, params.zone, null).then((page) => page.rows[0]?.row),
    ...(pair ?? []).map((number) => zoneRevisionOf(rt, params.zone, number)),
  ]);
  if (!newest) throw data(t("there-is-no-such-zone"), { status: 404 });
  const [from, to] = both;
  return {
    ...{ next, first, newest: newest.number },
    standing: zones.some((zone) => zone.id === params.zone),
    name: zones.find((zone) => zone.id === params.zone)?.name ?? newest.name,
    rows: rows.map(({ row, earlier }) => ({
      ...{ number: row.number, person: row.person, createdAt: row.createdAt },
      changes: earlier && zoneChanges(earlier, row),
    })),
    compared: from && to ? { pair: [from.number, to.number] as const, changes: zoneChanges(from, to) } : null,
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  await mustFindStorefront(context, params.storefront);
  const form = await formOf(request);
  const number = numberIn(form.get("restore"));
  const found = number === null ? null : await zoneRevisionOf(rt, params.zone, number);
  if (number === null || !found) throw data(t("there-is-no-such-revision"), { status: 404 });
  const kept = await restoreZone(rt, person.email, found, extentIn(form.get("agreed")));
  const answer = { number, restored: kept.ok, problem: "", asks: null };
  if (kept.ok) return answer;
  if ("asks" in kept)
    return data({ ...answer, asks: { effect: kept.asks, extent: kept.extent } }, { status: 409 });
  const problem = spoken(kept.problems)
    .map(({ says }) => says)
    .join(" ");
  return data({ ...answer, problem }, { status: 422 });
}

/** A change in a line: of places those that came and went, of anything else what it was and is. */
function inLine({ field, from, to }: ZoneChange) {
  if (field === "removed")
    return {
      key: field,
      says: to.length > 0 ? t("the-zone-was-removed") : t("the-zone-was-brought-back"),
    };
  const came = wordsFor(
    field,
    to.filter((one) => !from.includes(one)),
  );
  const went = wordsFor(
    field,
    from.filter((one) => !to.includes(one)),
  );
  const says = lists.some((one) => one === field)
    ? t("places-came-and-went", { came, went, kind: came && went ? "both" : came ? "came" : "went" })
    : `${went} → ${came}`;
  return { key: field, says: `${names[field]}: ${says}` };
}

/** What stands in a setting, for a place of its own. */
function valueOf(field: ZoneChange["field"], values: readonly string[]) {
  if (field === "removed") return values.length > 0 ? t("removed") : t("kept");
  return values.length > 0 ? wordsFor(field, values) : <Small as="span">{t("not-set")}</Small>;
}

/** What a zone was, every time it was kept: compared, and taken up again; also of one that was removed. */
export default function ZoneRevisions({ loaderData, params }: Route.ComponentProps) {
  const { name, standing, rows, next, first, newest, compared } = loaderData;
  const fetcher = useFetcher<typeof action>();
  const [left, setLeft] = useState<unknown>(null);
  const idle = fetcher.state === "idle";
  const answer = idle && fetcher.data !== left ? fetcher.data : undefined;
  const restore = (number: number, agreed = "") =>
    void fetcher.submit({ restore: String(number), agreed }, { method: "post" });
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <Link to={`/s/${params.storefront}/offer/zones`}>{t("zones")}</Link>
          <h1>{t("revisions-of-name", { name })}</h1>
          <p>{t("each-time-somebody-saved-the-zone")}</p>
        </div>
      </PageHead>
      {!standing && <Note meaning="waits">{t("this-zone-is-removed")}</Note>}
      {answer?.restored && (
        <Note meaning="proven">{t("zone-revision-is-restored", { number: answer.number })}</Note>
      )}
      <Wrong>{answer?.problem}</Wrong>
      {answer?.asks && (
        <Sheet>
          <Stack>
            <Effect effect={answer.asks.effect} />
            <Row>
              <Button
                type="button"
                $kind="main"
                onClick={() => answer.asks && restore(answer.number, extentText(answer.asks.extent))}
              >
                {t("restore-it-in-live-too")}
              </Button>
              <Button type="button" onClick={() => setLeft(answer)}>
                {t("leave-it")}
              </Button>
            </Row>
          </Stack>
        </Sheet>
      )}
      {newest > 1 && (
        <CompareRevisions
          newest={newest}
          compared={
            compared && {
              pair: compared.pair,
              differences: compared.changes.map(({ field, from, to }) => ({
                ...{ key: field, name: names[field] },
                values: [valueOf(field, from), valueOf(field, to)],
              })),
            }
          }
        />
      )}
      <RevisionTable
        {...{ rows, next, first, newest }}
        newestToo={!standing}
        marked={(number) => standing && number === newest && <Says meaning="proven">{t("holds-now")}</Says>}
        line={inLine}
        consequence={t("it-holds-at-once-in-test")}
        onRestore={restore}
        disabled={!idle}
      />
    </Stack>
  );
}

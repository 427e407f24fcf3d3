import { data, Link, useFetcher } from "react-router";
import { styled } from "styled-components";
import type { PictureRef } from "#core/looks/look";
import { looksOf, restoreLook } from "#server/looks/looks";
import { lookNumbers, lookRevisionOf, lookRevisionsOf } from "#server/looks/revisions";
import { pictureAddress } from "../checkouts/picture-address";
import { runtimeContext } from "../context";
import { formOf } from "../form-of";
import { mustFindStorefront } from "../frame/storefront-context";
import { Wrong } from "../parts/form";
import { Note } from "../parts/marks";
import { CompareRevisions, RevisionTable, runsIn } from "../parts/revisions";
import { numberIn, revisionsAsked } from "../parts/revisions-asked";
import { PageHead, Small, Stack } from "../parts/sheet";
import { mustOperate } from "../people/session";
import { color } from "../theme/tokens";
import { t } from "../words/pages/looks";
import { type LookChange, lookChanges } from "./changes";
import { nameOfField, valueOfField } from "./look-fields";
import type { Route } from "./+types/revisions-page";

export const meta: Route.MetaFunction = () => [{ title: t("earlier-looks-zahlung") }];

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const { id } = await mustFindStorefront(context, params.storefront);
  const rt = context.get(runtimeContext);
  const { before, first, pair } = revisionsAsked(request);
  const [looks, numbers, { rows, next }, ...both] = await Promise.all([
    looksOf(rt, id),
    lookNumbers(rt, id),
    lookRevisionsOf(rt, id, before),
    ...(pair ?? []).map((number) => lookRevisionOf(rt, id, number)),
  ]);
  const [from, to] = both;
  return {
    ...{ ...numbers, revision: looks.revision, next, first },
    rows: rows.map(({ row: { number, person, createdAt, look }, earlier }) => ({
      ...{ number, person, createdAt },
      changes: earlier && lookChanges(earlier.look, look),
    })),
    compared:
      from && to
        ? { pair: [from.number, to.number] as const, changes: lookChanges(from.look, to.look) }
        : null,
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const { id } = await mustFindStorefront(context, params.storefront);
  const form = await formOf(request);
  const number = numberIn(form.get("restore"));
  const found = number === null ? null : await lookRevisionOf(rt, id, number);
  if (!found) throw data(t("there-is-no-such-revision"), { status: 404 });
  const seen = form.has("basedOn") ? { basedOn: Number(form.get("basedOn")) } : {};
  if (await restoreLook(rt, person.email, found, seen)) return { restored: number, problem: null };
  return data({ restored: null, problem: t("somebody-changed-the-look-meanwhile") }, { status: 409 });
}

const Picture = styled.img`
  max-height: 2rem;
  max-width: 9rem;
  width: auto;
  height: auto;
  vertical-align: middle;
  background: #fffdf8;
  border: 1px solid ${color.rule};
  padding: 0.15rem;
`;
const Swatch = styled.svg`
  width: 0.8em;
  height: 0.8em;
  margin-inline-end: 0.35em;
`;

/** What stands, or stood, in one setting of a look. */
function Value({ field, value }: { field: string; value: string | PictureRef | null }) {
  if (value !== null && typeof value === "object")
    return (
      <Picture src={pictureAddress(value)} alt={t("the-logo")} width={value.width} height={value.height} />
    );
  if (field === "logo") return <Small as="span">{t("no-picture")}</Small>;
  const words = valueOfField(field, value) ?? value;
  if (!words) return <Small as="span">{t("not-set")}</Small>;
  const isColour = field === "accent" || field === "ground";
  return (
    <>
      {isColour && (
        <Swatch viewBox="0 0 10 10" aria-hidden>
          <rect width="10" height="10" fill={words} />
        </Swatch>
      )}
      {words}
    </>
  );
}

const inLine = (change: LookChange) => ({
  key: change.field,
  says: (
    <>
      {nameOfField(change.field)}: <Value field={change.field} value={change.from} /> →{" "}
      <Value field={change.field} value={change.to} />
    </>
  ),
});

/** Every look that was worked on: what each changed, compared with any other, and taken up again. */
export default function LookRevisions({ loaderData, params }: Route.ComponentProps) {
  const { working, live, revision, rows, next, first, compared } = loaderData;
  const fetcher = useFetcher<typeof action>();
  const idle = fetcher.state === "idle";
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <Link to={`/s/${params.storefront}/offer/look`}>{t("look-of-the-checkout")}</Link>
          <h1>{t("earlier-looks")}</h1>
          <p>{t("each-time-somebody-saved-the-look")}</p>
        </div>
      </PageHead>
      {idle && fetcher.data?.restored && (
        <Note meaning="proven">{t("look-revision-is-restored", { number: fetcher.data.restored })}</Note>
      )}
      <Wrong>{idle ? fetcher.data?.problem : null}</Wrong>
      {working !== null && working > 1 && (
        <CompareRevisions
          newest={working}
          live={live}
          compared={
            compared && {
              pair: compared.pair,
              differences: compared.changes.map(({ field, from, to }) => ({
                ...{ key: field, name: nameOfField(field) },
                values: [<Value field={field} value={from} />, <Value field={field} value={to} />],
              })),
            }
          }
        />
      )}
      <RevisionTable
        {...{ rows, next, first }}
        newest={working}
        marked={runsIn({ working, live })}
        line={inLine}
        consequence={t("it-becomes-the-look-worked-on")}
        onRestore={(number) =>
          void fetcher.submit({ restore: String(number), basedOn: String(revision) }, { method: "post" })
        }
        disabled={!idle}
      />
    </Stack>
  );
}

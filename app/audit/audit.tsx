import { Link } from "react-router";
import { chainNow, listAudit } from "#server/audit/audit";
import { subjectsOf } from "#server/audit/subjects";
import { runtimeContext } from "../context";
import { type Column, DataTable } from "../parts/data-table";
import { Filters } from "../parts/filters";
import { Field, Input } from "../parts/form";
import { useLive } from "../parts/live";
import { Says } from "../parts/marks";
import { Mono, PageHead, Sheet, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { detailWords } from "./detail-words";
import type { Route } from "./+types/audit";
import { t } from "../words/pages/audit";

export const meta: Route.MetaFunction = () => [{ title: t("audit-trail-zahlung") }];

export async function loader({ request, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const asked = new URL(request.url).searchParams;
  const [after, query] = [asked.get("after"), (asked.get("holds") ?? "").trim().slice(0, 100)];
  const [{ rows, next }, chain] = await Promise.all([
    listAudit(rt, Number(after) || null, query),
    chainNow(rt),
  ]);
  const subjects = await subjectsOf(
    rt,
    rows.map(({ subject }) => subject),
  );
  return {
    rows: rows.map(({ number, at, person, action, subject, detail }) => ({
      number,
      at,
      person,
      action,
      subject,
      about: subjects.get(subject) ?? null,
      detail: detailWords(detail),
    })),
    next: next === null ? null : String(next),
    first: after === null,
    query,
    chain,
  };
}

type Entry = Route.ComponentProps["loaderData"]["rows"][number];

/** What an entry is about: by its name where it still has one, and by its id where not. */
function About({ row: { subject, about } }: { row: Entry }) {
  if (!about) return <Mono>{subject}</Mono>;
  const { name, storefront, page } = about;
  return (
    <>
      {storefront && page ? <Link to={`/s/${storefront.id}/${page}`}>{name}</Link> : name}
      {storefront && <Small as="span"> {storefront.name}</Small>}
    </>
  );
}

const columns: Column<Entry>[] = [
  { id: "number", head: t("no"), amount: true, always: true, cell: (row) => row.number },
  { id: "at", head: t("when"), cell: (row) => <When at={row.at} /> },
  { id: "person", head: t("who"), wide: true, cell: (row) => row.person },
  { id: "action", head: t("what"), always: true, cell: (row) => row.action },
  { id: "subject", head: t("of-what"), wide: true, cell: (row) => <About row={row} /> },
  { id: "detail", head: t("detail"), wide: true, cell: (row) => <Mono>{row.detail}</Mono> },
];

export default function Audit({ loaderData }: Route.ComponentProps) {
  const { rows, next, first, query, chain } = loaderData;
  // A long trail is walked while the page stands already.
  useLive(chain === null, 2_000);
  return (
    <>
      <PageHead>
        <div>
          <h1>{t("audit-trail")}</h1>
          <p>{t("every-change-of-settings-and")}</p>
        </div>
        {chain === null ? (
          <Says meaning="running">{t("the-chain-is-being-looked")}</Says>
        ) : chain.broken === null ? (
          <Says meaning="proven">{t("the-chain-is-whole")}</Says>
        ) : (
          <Says meaning="wrong">{t("broken-at-entry-broken", { broken: chain.broken })}</Says>
        )}
      </PageHead>
      <Sheet>
        <Stack>
          <Filters label={t("filter-the-trail")} keep={[]}>
            <Field>
              {t("who-what-or-of-what")}
              <Input name="holds" type="search" defaultValue={query} />
            </Field>
          </Filters>
          <DataTable
            label={t("entries")}
            columns={columns}
            rows={rows}
            rowKey={(row) => String(row.number)}
            next={next}
            first={first}
            csv={`/audit.csv${query ? `?holds=${encodeURIComponent(query)}` : ""}`}
            empty={<Small>{t("nothing-has-been-changed-yet", { hasQuery: query ? "yes" : "no" })}</Small>}
          />
        </Stack>
      </Sheet>
    </>
  );
}

import { Link, useFetcher, data } from "react-router";
import { installedProfiles, removeProfile } from "#server/profiles/install";
import { runtimeContext } from "../context";
import { mustOwn } from "../people/session";
import { AskFirst } from "../parts/ask";
import { type Column, DataTable } from "../parts/data-table";
import { Button, Wrong } from "../parts/form";
import { PageHead, Row, Sheet, Small, Stack } from "../parts/sheet";
import { sortedBy } from "../parts/sorted";
import { When } from "../parts/when";
import type { Route } from "./+types/profiles-page";
import { t } from "../words/pages/profiles";

export const meta: Route.MetaFunction = () => [{ title: t("profiles-zahlung") }];

export const loader = async ({ request, context }: Route.LoaderArgs) =>
  sortedBy(
    await installedProfiles(context.get(runtimeContext)),
    new URL(request.url).searchParams.get("sort"),
    {
      name: (one) => one.name,
      version: (one) => one.version,
      source: (one) => one.source,
      installed: (one) => one.installedAt,
    },
  );

export async function action({ request, context }: Route.ActionArgs) {
  const { rt, person } = mustOwn(context);
  const removed = await removeProfile(
    rt,
    person.email,
    String((await request.formData()).get("profile") ?? ""),
  );
  return removed.ok ? { says: null } : data({ says: removed.says }, { status: 409 });
}

const columns: Column<Route.ComponentProps["loaderData"][number]>[] = [
  {
    ...{ id: "name", head: t("provider"), sort: "name", always: true },
    cell: (one) => (
      <>
        {one.name} <Small as="span">{one.id}</Small>
      </>
    ),
  },
  { id: "version", head: t("version"), sort: "version", always: true, cell: (one) => one.version },
  {
    ...{ id: "source", head: t("from"), sort: "source", wide: true },
    cell: (one) => (one.source === "file" ? t("a-file") : t("comes-with-zahlung")),
  },
  {
    ...{ id: "installed", head: t("installed"), sort: "installed", wide: true },
    cell: (one) => <When at={one.installedAt} />,
  },
  { id: "used", head: t("used-by"), prose: true, cell: (one) => one.usedBy.join(", ") || t("nothing-yet") },
  {
    ...{ id: "acts", head: "", always: true },
    cell: (one) => one.source === "file" && <Remove id={one.id} name={one.name} />,
  },
];

/** The documents that teach Zahlung its providers. */
export default function Profiles({ loaderData }: Route.ComponentProps) {
  return (
    <>
      <PageHead>
        <div>
          <h1>{t("profiles")}</h1>
          <p>
            {t("each-document-teaches-zahlung-one", {
              a: (inner) => <a href="/schemas/profile-2.json">{inner}</a>,
            })}
          </p>
        </div>
        <Row>
          <Button as={Link} to="/profiles/install" $kind="main">
            {t("install-from-a-file")}
          </Button>
        </Row>
      </PageHead>
      <Sheet>
        <DataTable
          label={t("profiles")}
          columns={columns}
          rows={loaderData}
          rowKey={(one) => one.id}
          empty={<Small>{t("no-profile-is-installed-the")}</Small>}
        />
      </Sheet>
    </>
  );
}

function Remove({ id, name }: { id: string; name: string }) {
  const fetcher = useFetcher<{ says: string | null }>();
  return (
    <Stack $gap={0.2}>
      <AskFirst
        label={t("remove")}
        name={t("remove-name", { name })}
        title={t("ask-remove-name", { name })}
        says={t("it-can-no-longer-be")}
        yes={t("remove-it")}
        no={t("keep-it")}
        onYes={() => void fetcher.submit({ profile: id }, { method: "post" })}
      />
      <Wrong>{fetcher.data?.says}</Wrong>
    </Stack>
  );
}

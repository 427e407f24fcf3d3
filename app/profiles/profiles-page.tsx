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

export const meta: Route.MetaFunction = () => [{ title: "Profiles · Zahlung" }];

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
    ...{ id: "name", head: "Provider", sort: "name", always: true },
    cell: (one) => (
      <>
        {one.name} <Small as="span">{one.id}</Small>
      </>
    ),
  },
  { id: "version", head: "Version", sort: "version", always: true, cell: (one) => one.version },
  {
    ...{ id: "source", head: "From", sort: "source", wide: true },
    cell: (one) => (one.source === "file" ? "a file" : "comes with Zahlung"),
  },
  {
    ...{ id: "installed", head: "Installed", sort: "installed", wide: true },
    cell: (one) => <When at={one.installedAt} />,
  },
  { id: "used", head: "Used by", prose: true, cell: (one) => one.usedBy.join(", ") || "nothing yet" },
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
          <h1>Profiles</h1>
          <p>
            Each document teaches Zahlung one provider: whom to call, what to ask for, and how to read what
            comes back. Its form is a <a href="/schemas/profile-2.json">JSON Schema</a>.
          </p>
        </div>
        <Row>
          <Button as={Link} to="/profiles/install" $kind="main">
            Install from a file
          </Button>
        </Row>
      </PageHead>
      <Sheet>
        <DataTable
          label="Profiles"
          columns={columns}
          rows={loaderData}
          rowKey={(one) => one.id}
          empty={
            <Small>
              No profile is installed. The ones that come with Zahlung are installed as it starts.
            </Small>
          }
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
        label="Remove"
        name={`Remove ${name}`}
        title={`Remove ${name}?`}
        says="It can no longer be connected. Installing the file again brings it back."
        yes="Remove it"
        no="Keep it"
        onYes={() => void fetcher.submit({ profile: id }, { method: "post" })}
      />
      <Wrong>{fetcher.data?.says}</Wrong>
    </Stack>
  );
}

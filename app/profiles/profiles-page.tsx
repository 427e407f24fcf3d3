import { Link, useFetcher, data } from "react-router";
import { installedProfiles, removeProfile } from "#server/profiles/install";
import { runtimeContext } from "../context";
import { mustOwn } from "../people/session";
import { AskFirst } from "../parts/ask";
import { Button, Wrong } from "../parts/form";
import { PageHead, Row, Sheet, Small, Stack, Table } from "../parts/sheet";
import { When } from "../parts/when";
import type { Route } from "./+types/profiles-page";

export const meta: Route.MetaFunction = () => [{ title: "Profiles · Zahlung" }];

export const loader = ({ context }: Route.LoaderArgs) => installedProfiles(context.get(runtimeContext));

export async function action({ request, context }: Route.ActionArgs) {
  const { rt, person } = mustOwn(context);
  const removed = await removeProfile(
    rt,
    person.email,
    String((await request.formData()).get("profile") ?? ""),
  );
  return removed.ok ? { says: null } : data({ says: removed.says }, { status: 409 });
}

/** The documents that teach Zahlung its providers. */
export default function Profiles({ loaderData }: Route.ComponentProps) {
  return (
    <>
      <PageHead>
        <div>
          <h1>Profiles</h1>
          <p>
            Each document teaches Zahlung one provider: whom to call, what to ask for, and how to read what
            comes back. Its form is a <a href="/schemas/profile-1.json">JSON Schema</a>.
          </p>
        </div>
        <Row>
          <Button as={Link} to="/profiles/install" $kind="main">
            Install from a file
          </Button>
        </Row>
      </PageHead>
      <Sheet>
        <Table>
          <thead>
            <tr>
              <th scope="col">Provider</th>
              <th scope="col">Version</th>
              <th scope="col">From</th>
              <th scope="col">Installed</th>
              <th scope="col">Used by</th>
              <th scope="col">
                <span className="quiet">Remove</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {loaderData.map((one) => (
              <tr key={one.id}>
                <td>
                  {one.name} <Small as="span">{one.id}</Small>
                </td>
                <td>{one.version}</td>
                <td>{one.source === "file" ? "a file" : "comes with Zahlung"}</td>
                <td>
                  <When at={one.installedAt} />
                </td>
                <td>{one.usedBy.join(", ") || "nothing yet"}</td>
                <td>{one.source === "file" && <Remove id={one.id} name={one.name} />}</td>
              </tr>
            ))}
          </tbody>
        </Table>
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

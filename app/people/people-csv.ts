import { allPeople } from "#server/people/people";
import { runtimeContext } from "../context";
import { csvResponse } from "../parts/csv";
import type { Route } from "./+types/people-csv";
import { t } from "../words/pages/people-answers";

/** Who may come in, and as what, as a file. Times are UTC. */
export async function loader({ context }: Route.LoaderArgs) {
  const people = await allPeople(context.get(runtimeContext));
  return csvResponse(
    "people",
    [t("name"), t("e-mail"), t("role"), t("since")],
    people.map(({ name, email, role, createdAt }) => [name, email, role, new Date(createdAt).toISOString()]),
  );
}

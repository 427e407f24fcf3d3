import { auditBreak, listAudit } from "#server/audit/audit";
import { runtimeContext } from "../context";
import { type Column, DataTable } from "../parts/data-table";
import { Says } from "../parts/marks";
import { Mono, PageHead, Sheet, Small } from "../parts/sheet";
import { When } from "../parts/when";
import { detailWords } from "./detail-words";
import type { Route } from "./+types/audit";

export const meta: Route.MetaFunction = () => [{ title: "Audit trail · Zahlung" }];

export async function loader({ request, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const after = new URL(request.url).searchParams.get("after");
  const [{ rows, next }, broken] = await Promise.all([listAudit(rt, Number(after) || null), auditBreak(rt)]);
  return {
    rows: rows.map(({ number, at, person, action, subject, detail }) => ({
      number,
      at,
      person,
      action,
      subject,
      detail: detailWords(detail),
    })),
    next: next === null ? null : String(next),
    first: after === null,
    broken,
  };
}

const columns: Column<Route.ComponentProps["loaderData"]["rows"][number]>[] = [
  { id: "number", head: "No", amount: true, always: true, cell: (row) => row.number },
  { id: "at", head: "When", cell: (row) => <When at={row.at} /> },
  { id: "person", head: "Who", wide: true, cell: (row) => row.person },
  { id: "action", head: "What", always: true, cell: (row) => row.action },
  { id: "subject", head: "Of what", wide: true, cell: (row) => <Mono>{row.subject}</Mono> },
  { id: "detail", head: "Detail", wide: true, cell: (row) => <Mono>{row.detail}</Mono> },
];

export default function Audit({ loaderData }: Route.ComponentProps) {
  const { rows, next, first, broken } = loaderData;
  return (
    <>
      <PageHead>
        <div>
          <h1>Audit trail</h1>
          <p>
            Every change of settings. Each entry carries the hash of the one before, so none can be taken out
            unseen.
          </p>
        </div>
        {broken === null ? (
          <Says meaning="proven">the chain is whole</Says>
        ) : (
          <Says meaning="wrong">broken at entry {broken}</Says>
        )}
      </PageHead>
      <Sheet>
        <DataTable
          label="Entries"
          columns={columns}
          rows={rows}
          rowKey={(row) => String(row.number)}
          next={next}
          first={first}
          csv="/audit.csv"
          empty={<Small>Nothing has been changed yet.</Small>}
        />
      </Sheet>
    </>
  );
}

import { recentAudit } from "#server/audit/audit";
import { runtimeContext } from "../context";
import { csvResponse } from "../parts/csv";
import { detailWords } from "./detail-words";
import type { Route } from "./+types/audit-csv";
import { t } from "../words/pages/audit-answers";

const MOST = 50_000;

/** The audit trail as a file, the newest first. Times are UTC. */
export async function loader({ request, context }: Route.LoaderArgs) {
  const query = (new URL(request.url).searchParams.get("holds") ?? "").trim().slice(0, 100);
  const rows = await recentAudit(context.get(runtimeContext), MOST, query);
  return csvResponse(
    "audit-trail",
    [t("no"), t("time"), t("who"), t("what"), t("of-what"), t("detail"), t("hash")],
    rows.map((row) => [
      row.number,
      new Date(row.at).toISOString(),
      row.person,
      row.action,
      row.subject,
      detailWords(row.detail),
      row.hash,
    ]),
  );
}

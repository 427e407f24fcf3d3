import { data, Link } from "react-router";
import { modeShown } from "#server/connections/connections";
import { noticeOf, setNotice } from "#server/notices/notices";
import { listFindings, type Settling, settleFinding } from "#server/findings/findings";
import { type Context, personContext, runtimeContext } from "../context";
import type { Looking } from "../frame/looking";
import { mustFindStorefront } from "../frame/storefront-context";
import { type Column, DataTable } from "../parts/data-table";
import { Filters } from "../parts/filters";
import { useLive } from "../parts/live";
import { Says } from "../parts/marks";
import { SelectBox } from "../parts/select-box";
import { PageHead, Sheet, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { mustOperate, mustOwn } from "../people/session";
import { spokenIn, tell } from "../words/spoken.server";
import { localeOf } from "../frame/storefront-context";
import { FindingPresses } from "./finding-presses";
import { TellWhom } from "./tell-whom";
import type { Route } from "./+types/findings-page";
import { t } from "../words/pages/findings";

export const meta: Route.MetaFunction = () => [{ title: t("findings-zahlung") }];

const DAY = 86_400_000;

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const storefront = await mustFindStorefront(context, params.storefront);
  const rt = context.get(runtimeContext);
  const search = new URL(request.url).searchParams;
  const mode = await modeShown(rt, storefront.id, search.get("mode"));
  const all = search.get("show") === "all";
  const page = await listFindings(rt, storefront.id, { mode, open: !all, after: search.get("after") });
  const notice = await noticeOf(rt, storefront.id);
  return spokenIn(localeOf(storefront)).spoken({
    notice: notice && { email: notice.email, address: notice.address, outcome: notice.outcome },
    mail: rt.settings.smtpUrl !== null,
    owner: context.get(personContext).role === "owner",
    looking: { mode, may: ["test", "live"] } satisfies Looking,
    all,
    first: search.get("after") === null,
    ...page,
  });
}

async function tellWhom(context: Context, storefrontId: string, form: FormData) {
  const { rt, person } = mustOwn(context);
  const field = (name: string) => String(form.get(name) ?? "").trim();
  const set = await setNotice(rt, person.email, storefrontId, {
    email: field("email"),
    address: field("address"),
  });
  return set.ok
    ? { ok: true as const, secret: set.secret, says: t("kept") }
    : data({ ok: false as const, field: set.field, says: tell(set.says) }, { status: 422 });
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { person } = mustOperate(context);
  const storefront = await mustFindStorefront(context, params.storefront);
  const rt = context.get(runtimeContext);
  const form = await request.formData();
  if (form.get("press") === "tell") return tellWhom(context, storefront.id, form);
  const as = form.get("as");
  const reason = String(form.get("reason") ?? "")
    .trim()
    .slice(0, 200);
  if (as !== "open" && as !== "resolved" && as !== "snoozed")
    throw data(t("that-cannot-be-done-here"), { status: 400 });
  if (as !== "open" && reason === "")
    return data({ ok: false as const, says: t("say-in-a-few-words") }, { status: 422 });
  const settling: Settling =
    as === "open" ? { as } : as === "resolved" ? { as, reason } : { as, reason, until: rt.now() + DAY };
  const id = String(form.get("finding") ?? "");
  if (!(await settleFinding(rt, person.email, storefront.id, id, settling)))
    throw data(t("there-is-no-such-finding"), { status: 404 });
  return { ok: true as const };
}

type Row = Route.ComponentProps["loaderData"]["rows"][number];

const columnsOf = (at: string): Column<Row>[] => [
  {
    id: "what",
    head: t("what"),
    always: true,
    prose: true,
    cell: (row) => (
      <Stack $gap={0.15}>
        <Link to={row.to}>{row.title}</Link>
        <Small>{row.says}</Small>
      </Stack>
    ),
  },
  { id: "since", head: t("since"), wide: true, cell: (row) => <When at={row.openedAt} /> },
  {
    id: "act",
    head: "",
    always: true,
    cell: (row) => <FindingPresses finding={row} action={`${at}/operate/findings`} />,
  },
];

export default function FindingsPage({ loaderData, params }: Route.ComponentProps) {
  const { rows, next, first, all, notice, mail, owner } = loaderData;
  useLive(true, 5_000);
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <h1>{t("findings")}</h1>
          <p>{t("what-does-not-fit-and")}</p>
        </div>
      </PageHead>
      <Sheet>
        <Stack>
          <Filters label={t("filter-findings")} keep={["mode"]}>
            <SelectBox
              label={t("show")}
              name="show"
              defaultValue={all ? "all" : ""}
              choices={[
                { id: "", name: t("waiting") },
                { id: "all", name: t("all-of-them") },
              ]}
            />
          </Filters>
          <DataTable
            label={t("findings")}
            columns={columnsOf(`/s/${params.storefront}`)}
            rows={rows}
            rowKey={(row) => row.id}
            next={next}
            first={first}
            empty={<Says meaning="proven">{t("nothing-waits-for-anybody")}</Says>}
          />
        </Stack>
      </Sheet>
      {owner && <TellWhom notice={notice} mail={mail} />}
    </Stack>
  );
}

import { data, useFetcher } from "react-router";
import type { JobKind } from "#server/jobs/jobs";
import { doNow } from "#server/jobs/jobs";
import { failingJobs, jobCounts } from "#server/jobs/list";
import { runtimeContext } from "../context";
import { type Column, DataTable } from "../parts/data-table";
import { useLive } from "../parts/live";
import { Button } from "../parts/form";
import { Says } from "../parts/marks";
import { mustOperate } from "../people/session";
import { Mono, PageHead, Sheet, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { spoken } from "../words/spoken.server";
import type { Route } from "./+types/jobs-page";
import { t } from "../words/pages/jobs";

export const meta: Route.MetaFunction = () => [{ title: t("background-work-zahlung") }];

export async function loader({ context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const [failing, counts] = await Promise.all([failingJobs(rt), jobCounts(rt)]);
  return spoken({
    counts,
    failing: failing.map(({ id, kind, key, tries, error, runAt, lease, triedAt }) => ({
      id,
      kind,
      key,
      tries,
      error,
      runAt: lease === null ? runAt : null,
      running: lease !== null,
      triedAt,
    })),
  });
}

export async function action({ request, context }: Route.ActionArgs) {
  const { rt } = mustOperate(context);
  const done = await doNow(rt, String((await request.formData()).get("job") ?? ""));
  if (!done) throw data(t("there-is-no-such-work"), { status: 404 });
  return { ok: true };
}

const words: Record<JobKind, string> = {
  "apply-webhooks": t("apply-the-messages-received-at"),
  "apply-webhook": t("apply-a-message-that-could"),
  "deliver-news": t("tell-the-shop-news"),
  "look-up": t("ask-a-provider-what-became"),
  operation: t("find-out-how-an-operation"),
  "expire-checkout": t("end-a-checkout-whose-time"),
  "let-go": t("let-go-of-the-payment"),
  "let-go-payment": t("let-go-of-a-payment"),
  "take-token": t("ask-a-wallet-what-the"),
  "undo-surplus": t("give-back-a-second-payment"),
  "judge-walk": t("judge-a-purchase-that-was"),
  rehearse: t("run-a-rehearsal"),
  "check-account": t("ask-how-an-accounts-review"),
  "read-registrations": t("read-a-providers-list-of"),
  "follow-reviews": t("find-accounts-under-review"),
  "follow-registrations": t("find-lists-of-webhooks-to"),
  "follow-silence": t("find-addresses-that-have-fallen"),
  "follow-holds": t("find-money-whose-hold-ends"),
  "follow-troubles": t("ask-providers-in-trouble-whether"),
  "follow-standings": t("look-after-live-accounts-and"),
  "follow-payouts": t("find-accounts-whose-payouts-are"),
  "follow-disputes": t("find-accounts-whose-disputes-are"),
  "read-disputes": t("read-the-disputes-of-an"),
  "read-payouts": t("read-what-an-account-was"),
  "take-steps": t("confirm-or-capture-what-a"),
  "capture-due": t("capture-what-is-held-once"),
  remind: t("remind-a-shopper-of-what"),
  "send-receipt": t("send-a-receipt"),
  "tell-findings": t("tell-people-what-was-found"),
  "forget-instrument": t("have-a-provider-forget-what"),
  repeat: t("charge-what-is-paid-again"),
  "close-button": t("end-a-purchase-that-was"),
  "ask-shopper": t("ask-a-shopper-for-something"),
  prune: t("forget-what-is-of-no"),
};
type JobView = Route.ComponentProps["loaderData"]["failing"][number];

const columns: Column<JobView>[] = [
  {
    id: "what",
    head: t("what"),
    always: true,
    cell: (job) => (
      <Stack $gap={0.1}>
        {words[job.kind as JobKind] ?? job.kind}
        <Mono>{job.key}</Mono>
      </Stack>
    ),
  },
  { id: "error", head: t("what-went-wrong"), always: true, cell: (job) => job.error },
  { id: "tries", head: t("tries"), amount: true, cell: (job) => job.tries },
  {
    id: "last",
    head: t("last"),
    wide: true,
    cell: (job) => job.triedAt !== null && <When at={job.triedAt} />,
  },
  {
    id: "next",
    head: t("next"),
    wide: true,
    cell: (job) =>
      job.running ? (
        <Says meaning="running">{t("now")}</Says>
      ) : job.runAt === null ? (
        <Says meaning="wrong">{t("given-up")}</Says>
      ) : (
        <When at={job.runAt} />
      ),
  },
  { id: "act", head: "", always: true, cell: (job) => !job.running && <TryNow id={job.id} /> },
];

export default function JobsPage({ loaderData }: Route.ComponentProps) {
  const { failing, counts } = loaderData;
  useLive(true, 3_000);
  return (
    <>
      <PageHead>
        <div>
          <h1>{t("background-work")}</h1>
          <p>{t("what-failed-is-tried-again")}</p>
        </div>
        <Small>
          {t("waiting-waiting-for-their-time", { waiting: counts.waiting, running: counts.running })}
        </Small>
      </PageHead>
      <Sheet>
        <DataTable
          label={t("failing-work")}
          columns={columns}
          rows={failing}
          rowKey={(job) => job.id}
          empty={<Says meaning="proven">{t("nothing-is-failing")}</Says>}
        />
      </Sheet>
    </>
  );
}

function TryNow({ id }: { id: string }) {
  const fetcher = useFetcher();
  return (
    <fetcher.Form method="post">
      <Button $kind="bare" name="job" value={id} disabled={fetcher.state !== "idle"}>
        {t("try-now")}
      </Button>
    </fetcher.Form>
  );
}

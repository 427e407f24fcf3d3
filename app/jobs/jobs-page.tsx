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

export const meta: Route.MetaFunction = () => [{ title: "Background work · Zahlung" }];

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
  if (!done) throw data("There is no such work any more.", { status: 404 });
  return { ok: true };
}

const words: Record<JobKind, string> = {
  "apply-webhooks": "Apply the messages received at an address",
  "apply-webhook": "Apply a message that could not be applied",
  "deliver-news": "Tell the shop news",
  "look-up": "Ask a provider what became of a payment",
  operation: "Find out how an operation at a provider ended",
  "expire-checkout": "End a checkout whose time is over",
  "let-go": "Let go of the payment of an ended checkout",
  "let-go-payment": "Let go of a payment that another has overtaken",
  "take-token": "Ask a wallet what the shopper decided",
  "undo-surplus": "Give back a second payment of an order",
  "judge-walk": "Judge a purchase that was walked",
  rehearse: "Run a rehearsal",
  "check-account": "Ask how an account’s review stands",
  "read-registrations": "Read a provider’s list of webhooks",
  "follow-reviews": "Find accounts under review",
  "follow-registrations": "Find lists of webhooks to read again",
  "follow-silence": "Find addresses that have fallen silent",
  "follow-holds": "Find money whose hold ends soon",
  "follow-troubles": "Ask providers in trouble whether they answer again",
  "follow-standings": "Look after live accounts and gates",
  "follow-payouts": "Find accounts whose payouts are to be read",
  "follow-disputes": "Find accounts whose disputes are to be read",
  "read-disputes": "Read the disputes of an account",
  "read-payouts": "Read what an account was paid out",
  "take-steps": "Confirm or capture what a provider leaves to us",
  "capture-due": "Capture what is held once its days are over",
  remind: "Remind a shopper of what is still to be paid",
  "send-receipt": "Send a receipt",
  "tell-findings": "Tell people what was found",
  "forget-instrument": "Have a provider forget what a shopper kept",
  repeat: "Charge what is paid again and again",
  "close-button": "End a purchase that was begun by a button",
  "ask-shopper": "Ask a shopper for something else to pay with",
  prune: "Forget what is of no use any more",
};
type JobView = Route.ComponentProps["loaderData"]["failing"][number];

const columns: Column<JobView>[] = [
  {
    id: "what",
    head: "What",
    always: true,
    cell: (job) => (
      <Stack $gap={0.1}>
        {words[job.kind as JobKind] ?? job.kind}
        <Mono>{job.key}</Mono>
      </Stack>
    ),
  },
  { id: "error", head: "What went wrong", always: true, cell: (job) => job.error },
  { id: "tries", head: "Tries", amount: true, cell: (job) => job.tries },
  { id: "last", head: "Last", wide: true, cell: (job) => job.triedAt !== null && <When at={job.triedAt} /> },
  {
    id: "next",
    head: "Next",
    wide: true,
    cell: (job) =>
      job.running ? (
        <Says meaning="running">now</Says>
      ) : job.runAt === null ? (
        <Says meaning="wrong">given up</Says>
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
          <h1>Background work</h1>
          <p>
            What failed is tried again by itself, later each time, and stands in nobody’s way. What was given
            up waits for a press.
          </p>
        </div>
        <Small>
          {counts.waiting} waiting for their time, {counts.running} being done
        </Small>
      </PageHead>
      <Sheet>
        <DataTable
          label="Failing work"
          columns={columns}
          rows={failing}
          rowKey={(job) => job.id}
          empty={<Says meaning="proven">nothing is failing</Says>}
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
        Try now
      </Button>
    </fetcher.Form>
  );
}

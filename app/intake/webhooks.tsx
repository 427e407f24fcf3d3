import { data, Link, useFetcher } from "react-router";
import { styled } from "styled-components";
import { verdictWords } from "#core/webhooks/verdict-words";
import { modeShown } from "#server/connections/connections";
import { applicableAgain } from "#server/intake/apply";
import { applyNow, listWebhooks } from "#server/intake/list";
import { runtimeContext } from "../context";
import { mustFindStorefront } from "../frame/storefront-context";
import { mustOperate } from "../people/session";
import { CopyValue } from "../parts/copy";
import { Button } from "../parts/form";
import { useLive } from "../parts/live";
import { Says } from "../parts/marks";
import { Mono, PageHead, Sheet, Small, Stack, Table } from "../parts/sheet";
import { When } from "../parts/when";
import { OperateTabs } from "../payments/tabs";
import type { Route } from "./+types/webhooks";

export const meta: Route.MetaFunction = () => [{ title: "Webhooks · Zahlung" }];

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const storefront = await mustFindStorefront(context, params.storefront);
  const search = new URL(request.url).searchParams;
  const rt = context.get(runtimeContext);
  const shown = await modeShown(rt, storefront.id, search.get("mode"));
  const page = await listWebhooks(rt, storefront.id, shown, Number(search.get("before")) || null);
  return {
    mode: shown,
    next: page.next,
    rows: page.rows.map(
      ({ number, receivedAt, event, verdict, outcome, paymentId, messageId, body, error }) => ({
        number,
        error,
        again: verdict === "verified" && applicableAgain.includes(outcome),
        receivedAt,
        event,
        verdict,
        outcome,
        paymentId,
        messageId,
        body,
      }),
    ),
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt } = mustOperate(context);
  const storefront = await mustFindStorefront(context, params.storefront);
  const number = Number((await request.formData()).get("number"));
  if (!Number.isSafeInteger(number) || !(await applyNow(rt, storefront.id, number)))
    throw data("There is no such message here, or nothing is left to be done with it.", { status: 404 });
  return { ok: true };
}

const words: Record<string, string> = {
  waiting: "being applied",
  applied: "applied",
  repeated: "known already, changed nothing",
  "unknown-payment": "about no payment of ours, changed nothing",
  "not-understood": "not understood, changed nothing",
  failing: "could not be applied yet; it is tried again",
  "given-up": "could not be applied in three days; it waits for you",
  ping: "a test message",
  account: "the account was read again",
  lost: "lost on purpose by a rehearsal",
  held: "held back by a rehearsal",
};
const Scroller = styled.div`
  overflow-x: auto;
`;

function ApplyAgain({ number }: { number: number }) {
  const fetcher = useFetcher();
  return (
    <fetcher.Form method="post">
      <Button $kind="bare" name="number" value={number} disabled={fetcher.state !== "idle"}>
        Apply again
      </Button>
    </fetcher.Form>
  );
}

export default function Webhooks({ loaderData, params }: Route.ComponentProps) {
  const { mode, rows, next } = loaderData;
  useLive(true, 3000);
  return (
    <>
      <PageHead>
        <h1>Webhooks received</h1>
      </PageHead>
      <Sheet>
        <Stack>
          <OperateTabs storefrontId={params.storefront} mode={mode} at="/webhooks" />
          {rows.length === 0 ? (
            <Small>
              This side has heard nothing yet. On the handshake sheet you can ask the provider for a test
              message.
            </Small>
          ) : (
            <Scroller tabIndex={0} role="region" aria-label="Webhooks">
              <Table>
                <thead>
                  <tr>
                    <th scope="col">When</th>
                    <th scope="col">Event</th>
                    <th scope="col">Verdict</th>
                    <th scope="col">Payment</th>
                    <th scope="col">Message</th>
                    <th scope="col">Body</th>
                  </tr>
                </thead>
                <tbody>
                  {rows.map((row) => (
                    <tr key={row.number}>
                      <td>
                        <When at={row.receivedAt} />
                      </td>
                      <td>
                        <Mono>{row.event ?? "not read"}</Mono>
                      </td>
                      <td>
                        {row.verdict === "verified" ? (
                          <Says
                            meaning={
                              ["applied", "repeated", "ping"].includes(row.outcome) ? "proven" : "waits"
                            }
                          >
                            {words[row.outcome] ?? row.outcome}
                          </Says>
                        ) : (
                          <Says meaning="wrong">{`refused: ${verdictWords(row.verdict)}`}</Says>
                        )}
                        {row.error && <Small>{row.error}</Small>}
                        {row.again && <ApplyAgain number={row.number} />}
                      </td>
                      <td>
                        {row.paymentId && (
                          <Link to={`/s/${params.storefront}/operate/${row.paymentId}`}>its payment</Link>
                        )}
                      </td>
                      <td>
                        {row.messageId && (
                          <CopyValue value={row.messageId} label={`…${row.messageId.slice(-8)}`} />
                        )}
                      </td>
                      <td>
                        <CopyValue value={row.body} label="Copy as JSON" plain />
                      </td>
                    </tr>
                  ))}
                </tbody>
              </Table>
            </Scroller>
          )}
          {next && (
            <Button as={Link} to={`?mode=${mode}&before=${next}`}>
              Earlier ones
            </Button>
          )}
        </Stack>
      </Sheet>
    </>
  );
}

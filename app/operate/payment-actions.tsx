import { useFetcher } from "react-router";
import { decimalText } from "#core/money/money";
import type { ActionKind, Allowed } from "#core/payments/actions";
import { Button, Field, Input, Wrong } from "../parts/form";
import { Says } from "../parts/marks";
import { Row, Small, Stack } from "../parts/sheet";

interface PaymentView {
  id: string;
  currency: string;
  version: number;
}
type Answer = { ok: boolean; press?: string; says: string };

const verbs: Record<ActionKind, string> = { capture: "Capture", void: "Void", refund: "Refund" };

/** Capture, void and refund with their amounts; what cannot be done says why. */
export function PaymentActions({
  allowed,
  payment,
}: {
  allowed: Record<ActionKind, Allowed>;
  payment: PaymentView;
}) {
  const fetcher = useFetcher<Answer>();
  const answer = fetcher.data;
  const kinds: ActionKind[] = ["capture", "void", "refund"];
  return (
    <Stack>
      {kinds.map((kind) => {
        const can = allowed[kind];
        if (!can.allowed) {
          return (
            <Row key={kind}>
              <Button disabled>{verbs[kind]}</Button>
              <Small>{can.because}</Small>
            </Row>
          );
        }
        return (
          <fetcher.Form method="post" key={kind}>
            <input type="hidden" name="once" value={`v${payment.version}`} />
            <Row>
              {kind !== "void" && (
                <Field>
                  Amount in {payment.currency}
                  <Input
                    // What is typed stays when news comes in, and goes when there is another most.
                    key={can.most}
                    name="amount"
                    inputMode="decimal"
                    defaultValue={decimalText({ amount: can.most, currency: payment.currency })}
                    readOnly={!can.partial}
                    maxLength={20}
                    size={10}
                  />
                </Field>
              )}
              <Button
                name="press"
                value={kind}
                $kind={kind === "capture" ? "main" : "plain"}
                disabled={fetcher.state !== "idle"}
              >
                {fetcher.state === "idle" ? verbs[kind] : "Asking the provider…"}
              </Button>
            </Row>
            {answer && !answer.ok && answer.press === kind && <Wrong>{answer.says}</Wrong>}
          </fetcher.Form>
        );
      })}
      {answer?.ok && (
        <Says meaning="proven" role="status">
          {answer.says}
        </Says>
      )}
      <fetcher.Form method="post">
        <Button $kind="bare" name="press" value="look-up">
          Look it up at the provider
        </Button>
      </fetcher.Form>
    </Stack>
  );
}

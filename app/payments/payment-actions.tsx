import { useState } from "react";
import { useFetcher } from "react-router";
import { decimalText, moneyText, parseTyped } from "#core/money/money";
import type { ActionKind, Allowed as SaidAllowed } from "#core/payments/actions";
import { Ask } from "../parts/ask";
import { CheckBox } from "../parts/check-box";
import { Button, Wrong } from "../parts/form";
import { Says } from "../parts/marks";
import { Row, Small, Stack } from "../parts/sheet";
import type { Spoken } from "../words/speak";
import { AmountBox, TextBox } from "../parts/text-box";
import { t } from "../words/pages/payment";

type Allowed = Spoken<SaidAllowed>;

interface PaymentView {
  id: string;
  currency: string;
  authorised: number;
  orderReference: string;
  /** Of the card or account it was paid with; null where there is none. */
  lastFour: string | null;
  /** Whether more can be captured after a part was. */
  capturesAgain: boolean;
}
type Answer = { ok: boolean; press?: string; says: string };

const verbs: Record<ActionKind, string> = {
  capture: t("capture"),
  release: t("release"),
  void: t("void"),
  refund: t("refund"),
};

interface Props {
  allowed: Record<ActionKind, Allowed>;
  payment: PaymentView;
  /** Whether newer proven keys of the same account could take over. */
  newerKeys: boolean;
  /** Tells this form from the next: each is good for one act. */
  form: string;
  locale: string;
}

/** Capture, release, void and refund with their amounts; what cannot be done says why. */
export function PaymentActions(props: Props) {
  const fetcher = useFetcher();
  return (
    <Stack>
      {shownOf(props.allowed).map((kind) => (
        <MoneyMove key={kind} kind={kind} {...props} />
      ))}
      <fetcher.Form method="post">
        <Button $kind="bare" name="press" value="look-up" disabled={fetcher.state !== "idle"}>
          {t("asking-the-provider", { idle: fetcher.state === "idle" ? "yes" : "no" })}
        </Button>
        {props.newerKeys && (
          <Button $kind="bare" name="press" value="newer-keys" disabled={fetcher.state !== "idle"}>
            {t("go-on-with-the-accounts")}
          </Button>
        )}
      </fetcher.Form>
    </Stack>
  );
}

/** A method that cannot release in part needs no word about it; one that can says by release what void would. */
const shownOf = ({ release, void: voiding }: Record<ActionKind, Allowed>): ActionKind[] =>
  release.allowed && !voiding.allowed
    ? ["capture", "release", "refund"]
    : release.allowed
      ? ["capture", "release", "void", "refund"]
      : ["capture", "void", "refund"];

/**
 * One way to move money. The amount stands in the question and in its answer; once it has moved, the form is used up, and
 * another has to be asked for, so that no second press moves the rest.
 */
function MoneyMove({ kind, allowed, payment, form, locale }: Props & { kind: ActionKind }) {
  const fetcher = useFetcher<Answer>();
  const can = allowed[kind];
  const most = can.allowed ? can.most : 0;
  const [typed, setTyped] = useState<string | null>(null);
  /** The form that is asked about; kept from the question to the answer. */
  const [asking, setAsking] = useState<string | null>(null);
  const [used, setUsed] = useState(false);
  const [reason, setReason] = useState("");
  /** Whether nothing more is to be captured after this. */
  const [last, setLast] = useState(false);
  const { currency } = payment;
  const answer = fetcher.data;
  const busy = fetcher.state !== "idle";
  if (used && answer?.ok && !busy) {
    return (
      <Row>
        <Says meaning="proven" role="status">
          {answer.says}
        </Says>
        {can.allowed && (
          <Button
            type="button"
            $kind="bare"
            onClick={() => {
              setUsed(false);
              setTyped(null);
            }}
          >
            {t("verbs-more", { verbs: verbs[kind] })}
          </Button>
        )}
      </Row>
    );
  }
  if (!can.allowed && !busy) {
    return (
      <Row>
        <Button disabled>{verbs[kind]}</Button>
        <Small>{can.allowed ? null : can.because}</Small>
      </Row>
    );
  }
  const text = typed ?? decimalText({ amount: most, currency });
  const parsed = parseTyped(text, currency, locale);
  const amount = kind === "void" ? most : parsed.ok ? parsed.money.amount : null;
  const words =
    amount === null
      ? null
      : t("verb-amount-card", {
          verb: verbs[kind],
          amount: moneyText({ amount, currency }, locale),
          card: !payment.lastFour ? "none" : kind === "refund" ? "to" : "of",
          lastFour: payment.lastFour,
        });
  const rest = kind === "capture" && amount !== null ? most - amount : 0;
  const letsGo = rest > 0 && (last || !payment.capturesAgain);
  const go = (once: string) => {
    setAsking(null);
    setUsed(true);
    const fields = { press: kind, once: `${once} ${kind}`, amount: text, reason };
    void fetcher.submit({ ...fields, ...(letsGo && { final: "yes" }) }, { method: "post" });
  };
  return (
    <Stack $gap={0.4}>
      <Row $align="end">
        {kind !== "void" && (
          <AmountBox
            label={t("amount-to-kind-in-currency", { kind, currency })}
            currency={currency}
            invalid={amount === null}
            value={text}
            readOnly={(can.allowed && !can.partial) || busy}
            size={10}
            onChange={setTyped}
          />
        )}
        <Button
          type="button"
          $kind={kind === "capture" ? "main" : "plain"}
          disabled={busy || amount === null}
          onClick={() => setAsking(form)}
        >
          {busy ? t("asking-the-provider-2") : (words ?? verbs[kind])}
        </Button>
      </Row>
      {amount === null && <Wrong>{t("text-is-not-an-amount", { text: text.slice(0, 30), currency })}</Wrong>}
      {answer && !answer.ok && !busy && <Wrong>{answer.says}</Wrong>}
      {asking && words && (
        <Ask
          title={`${words}?`}
          says={
            <Stack $gap={0.6}>
              <p>
                {t("of-order-order-reference-lets", {
                  orderReference: payment.orderReference,
                  letsGo: letsGo
                    ? t("the-rest-of-what-is", { moneyText: moneyText({ amount: rest, currency }, locale) })
                    : rest > 0
                      ? t("money-text-stays-held-and", {
                          moneyText: moneyText({ amount: rest, currency }, locale),
                        })
                      : consequences[kind],
                })}
              </p>
              {kind === "refund" && (
                <TextBox
                  label={t("reason-for-the-books")}
                  maxLength={200}
                  value={reason}
                  onChange={setReason}
                />
              )}
              {rest > 0 && payment.capturesAgain && (
                <CheckBox checked={last} onChange={(on) => setLast(on)}>
                  {t("nothing-more-will-be-captured")}
                </CheckBox>
              )}
            </Stack>
          }
          onClose={() => setAsking(null)}
        >
          <Button type="button" $kind="danger" onClick={() => go(asking)}>
            {words}
          </Button>
          <Button type="button" onClick={() => setAsking(null)}>
            {t("leave-it")}
          </Button>
        </Ask>
      )}
    </Stack>
  );
}

const consequences: Record<ActionKind, string> = {
  capture: t("the-money-that-is-held"),
  release: t("what-is-released-goes-back"),
  void: t("the-money-that-is-held-is"),
  refund: t("the-money-goes-back-to"),
};

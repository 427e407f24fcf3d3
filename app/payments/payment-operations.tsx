import { useFetcher } from "react-router";
import { moneyText } from "#core/money/money";
import type { OperationKind, OperationState } from "#core/operations/operation";
import { Button, Wrong } from "../parts/form";
import { type Meaning, Says } from "../parts/marks";
import { Row, Sheet, Small, Stack, Table } from "../parts/sheet";
import { When } from "../parts/when";
import { t } from "../words/pages/payment";

export interface OperationView {
  id: string;
  kind: OperationKind;
  amount: number;
  state: OperationState;
  person: string;
  reason: string | null;
  /** The part of the order that it is about, in words. */
  lines: string | null;
  asks: number;
  says: string | null;
  at: number;
}

const kindWords: Record<OperationKind, string> = {
  create: t("payment-asked-for"),
  confirm: t("confirmed-with-the-provider"),
  capture: t("capture"),
  release: t("release"),
  void: t("void"),
  refund: t("refund"),
};
const stateSays: Record<OperationState, [Meaning, string]> = {
  asked: ["running", t("being-asked")],
  unknown: ["waits", t("not-known-yet-being-looked")],
  done: ["proven", "done"],
  refused: ["wrong", "refused"],
  nothing: ["wrong", t("came-to-nothing")],
  question: ["wrong", t("needs-your-word")],
};

/** What was wanted of the provider, by whom, and what is known of it. */
export function Operations({
  operations,
  currency,
  locale,
  provider,
}: {
  operations: readonly OperationView[];
  currency: string;
  locale: string;
  provider: string;
}) {
  return (
    <Sheet>
      <Stack>
        <h2>{t("operations")}</h2>
        {operations.length === 0 && <Small>{t("nothing-has-been-asked-of", { provider })}</Small>}
        {operations.length > 0 && (
          <Table>
            <thead>
              <tr>
                <th scope="col">{t("what")}</th>
                <th scope="col">{t("known-of-it")}</th>
                <th scope="col">{t("by")}</th>
                <th scope="col">{t("when")}</th>
              </tr>
            </thead>
            <tbody>
              {operations.map((one) => {
                const [meaning, words] = stateSays[one.state];
                return (
                  <tr key={one.id}>
                    <td>
                      {kindWords[one.kind]}, {moneyText({ amount: one.amount, currency }, locale)}
                      {one.lines && <Small>{one.lines}</Small>}
                      {one.reason && <Small>“{one.reason}”</Small>}
                    </td>
                    <td>
                      <Says meaning={meaning}>{words}</Says>
                      {one.asks > 1 && <Small as="span">{t("asked-asks-times", { asks: one.asks })}</Small>}
                      {one.says && one.state !== "done" && <Small>{one.says}</Small>}
                      {one.state === "question" && <Answer operation={one} />}
                    </td>
                    <td>
                      {one.person === "zahlung"
                        ? "Zahlung"
                        : one.person === "shopper"
                          ? t("the-shopper")
                          : one.person}
                    </td>
                    <td>
                      <When at={one.at} />
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </Table>
        )}
      </Stack>
    </Sheet>
  );
}

/** What a person found over there. */
function Answer({ operation }: { operation: OperationView }) {
  const fetcher = useFetcher<{ ok: boolean; says: string }>();
  const say = (found: "done" | "nothing") =>
    void fetcher.submit({ press: "settle", operation: operation.id, found }, { method: "post" });
  return (
    <Row>
      <Button type="button" disabled={fetcher.state !== "idle"} onClick={() => say("done")}>
        {t("it-was-done")}
      </Button>
      <Button type="button" disabled={fetcher.state !== "idle"} onClick={() => say("nothing")}>
        {t("it-was-not-done")}
      </Button>
      {fetcher.data && !fetcher.data.ok && <Wrong>{fetcher.data.says}</Wrong>}
    </Row>
  );
}

import { useFetcher } from "react-router";
import { moneyText } from "#core/money/money";
import type { OperationKind, OperationState } from "#core/operations/operation";
import { Button, Wrong } from "../parts/form";
import { type Meaning, Says } from "../parts/marks";
import { Row, Sheet, Small, Stack, Table } from "../parts/sheet";
import { When } from "../parts/when";

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
  create: "Payment asked for",
  confirm: "Confirmed with the provider",
  capture: "Capture",
  release: "Release",
  void: "Void",
  refund: "Refund",
};
const stateSays: Record<OperationState, [Meaning, string]> = {
  asked: ["running", "being asked"],
  unknown: ["waits", "not known yet, being looked up"],
  done: ["proven", "done"],
  refused: ["wrong", "refused"],
  nothing: ["wrong", "came to nothing"],
  question: ["wrong", "needs your word"],
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
        <h2>Operations</h2>
        {operations.length === 0 && <Small>Nothing has been asked of {provider} yet.</Small>}
        {operations.length > 0 && (
          <Table>
            <thead>
              <tr>
                <th scope="col">What</th>
                <th scope="col">Known of it</th>
                <th scope="col">By</th>
                <th scope="col">When</th>
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
                      {one.asks > 1 && <Small as="span"> asked {one.asks} times</Small>}
                      {one.says && one.state !== "done" && <Small>{one.says}</Small>}
                      {one.state === "question" && <Answer operation={one} />}
                    </td>
                    <td>
                      {one.person === "zahlung"
                        ? "Zahlung"
                        : one.person === "shopper"
                          ? "the shopper"
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
        It was done
      </Button>
      <Button type="button" disabled={fetcher.state !== "idle"} onClick={() => say("nothing")}>
        It was not done
      </Button>
      {fetcher.data && !fetcher.data.ok && <Wrong>{fetcher.data.says}</Wrong>}
    </Row>
  );
}

import type { FactSource, Statement } from "#core/payments/facts";
import { Sheet, Stack, Table } from "../parts/sheet";
import { When } from "../parts/when";
import type { Spoken } from "../words/speak";
import { factWords } from "./fact-words";

interface FactView {
  key: string;
  source: FactSource;
  statement: Spoken<Statement>;
  at: number;
  person: string | null;
}

/** Who stated what about a payment, and when. The state is what follows from all of it. */
export function Facts({
  facts,
  provider,
  currency,
  locale,
}: {
  facts: readonly FactView[];
  provider: string;
  currency: string;
  locale: string;
}) {
  return (
    <Sheet>
      <Stack>
        <h2>Facts</h2>
        <Table>
          <thead>
            <tr>
              <th scope="col">Who said</th>
              <th scope="col">What</th>
              <th scope="col">When</th>
            </tr>
          </thead>
          <tbody>
            {facts.map((fact) => (
              <tr key={fact.key}>
                <td>{fact.person ?? sourceWords(fact.source, provider)}</td>
                <td>{factWords(fact.statement, currency, locale)}</td>
                <td>
                  <When at={fact.at} />
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Stack>
    </Sheet>
  );
}

function sourceWords(source: FactSource, provider: string): string {
  switch (source) {
    case "zahlung":
      return "Zahlung";
    case "answer":
      return `${provider}, answering`;
    case "webhook":
      return `${provider}, by webhook`;
    case "look-up":
      return `${provider}, looked up`;
    case "admin":
      return "An administrator";
  }
}

import type { FactSource, Statement } from "#core/payments/facts";
import { Sheet, Stack, Table } from "../parts/sheet";
import { When } from "../parts/when";
import type { Spoken } from "../words/speak";
import { factWords } from "./fact-words";
import { t } from "../words/pages/payment";

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
        <h2>{t("facts")}</h2>
        <Table>
          <thead>
            <tr>
              <th scope="col">{t("who-said")}</th>
              <th scope="col">{t("what")}</th>
              <th scope="col">{t("when")}</th>
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
      return t("provider-answering", { provider });
    case "webhook":
      return t("provider-by-webhook", { provider });
    case "look-up":
      return t("provider-looked-up", { provider });
    case "admin":
      return t("an-administrator");
  }
}

import { useFetcher } from "react-router";
import type { AccountChange, AccountSummary } from "#server/connections/account-change";
import { AskFirst } from "../parts/ask";
import { Wrong } from "../parts/form";
import { Note } from "../parts/marks";
import { Mono, Small, Stack, Table } from "../parts/sheet";
import type { Answer } from "./presses";
import type { Spoken } from "../words/speak";
import { t } from "../words/pages/connections";

type Change = Spoken<AccountChange>;

const rows: [what: string, of: (one: AccountSummary) => React.ReactNode][] = [
  [t("account"), (one) => <Mono>{one.account}</Mono>],
  [t("name"), (one) => one.name],
  [t("country"), (one) => one.country],
  [t("currencies"), (one) => one.currencies.join(", ")],
  [t("may-charge"), (one) => (one.mayCharge ? t("yes") : t("no"))],
];

/** Live keys of another account: both side by side, and the question whether live payments are to go there. */
export function AccountChange({ change }: { change: Change }) {
  const fetcher = useFetcher<Answer>();
  const { old, cannot } = change;
  return (
    <Note meaning={cannot.length > 0 ? "wrong" : "waits"}>
      <Stack $gap={0.5}>
        <strong>{t("these-keys-open-another-account")}</strong>
        <Table>
          <thead>
            <tr>
              <td />
              <th scope="col">{t("live-now")}</th>
              <th scope="col">{t("these-keys")}</th>
            </tr>
          </thead>
          <tbody>
            {rows.map(([what, of]) => (
              <tr key={what}>
                <th scope="row">{what}</th>
                <td>{old ? of(old) : t("none")}</td>
                <td>{of(change.new)}</td>
              </tr>
            ))}
          </tbody>
        </Table>
        {cannot.length > 0 ? (
          <Small>{t("it-cannot-take-over-cannot", { cannot: cannot.join(" ") })}</Small>
        ) : (
          <AskFirst
            label={t("take-live-payments-to-this")}
            kind="danger"
            disabled={fetcher.state !== "idle"}
            title={t("take-live-payments-to-name", { name: change.new.name })}
            says={t("new-live-payments-go-to", {
              account: change.new.account,
              old: old ? t("and-no-longer-to-account", { account: old.account }) : "",
            })}
            yes={t("use-account", { account: change.new.account })}
            no={t("stay-as-it-is")}
            onYes={() =>
              void fetcher.submit(
                { press: "agree", mode: "live", account: change.new.account },
                { method: "post" },
              )
            }
          />
        )}
        <Wrong>{fetcher.data && !fetcher.data.kept ? fetcher.data.says : null}</Wrong>
      </Stack>
    </Note>
  );
}

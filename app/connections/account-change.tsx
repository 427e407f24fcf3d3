import { useFetcher } from "react-router";
import type { AccountChange, AccountSummary } from "#server/connections/account-change";
import { AskFirst } from "../parts/ask";
import { Wrong } from "../parts/form";
import { Note } from "../parts/marks";
import { Mono, Small, Stack, Table } from "../parts/sheet";
import type { Answer } from "./presses";
import type { Spoken } from "../words/speak";

type Change = Spoken<AccountChange>;

const rows: [what: string, of: (one: AccountSummary) => React.ReactNode][] = [
  ["Account", (one) => <Mono>{one.account}</Mono>],
  ["Name", (one) => one.name],
  ["Country", (one) => one.country],
  ["Currencies", (one) => one.currencies.join(", ")],
  ["May charge", (one) => (one.mayCharge ? "yes" : "no")],
];

/** Live keys of another account: both side by side, and the question whether live payments are to go there. */
export function AccountChange({ change }: { change: Change }) {
  const fetcher = useFetcher<Answer>();
  const { old, cannot } = change;
  return (
    <Note meaning={cannot.length > 0 ? "wrong" : "waits"}>
      <Stack $gap={0.5}>
        <strong>These keys open another account. Live payments go on with the one that is live.</strong>
        <Table>
          <thead>
            <tr>
              <td />
              <th scope="col">Live now</th>
              <th scope="col">These keys</th>
            </tr>
          </thead>
          <tbody>
            {rows.map(([what, of]) => (
              <tr key={what}>
                <th scope="row">{what}</th>
                <td>{old ? of(old) : "none"}</td>
                <td>{of(change.new)}</td>
              </tr>
            ))}
          </tbody>
        </Table>
        {cannot.length > 0 ? (
          <Small>It cannot take over: {cannot.join(" ")}</Small>
        ) : (
          <AskFirst
            label="Take live payments to this account"
            kind="danger"
            disabled={fetcher.state !== "idle"}
            title={`Take live payments to ${change.new.name}?`}
            says={`New live payments go to account ${change.new.account} from now on${old ? `, and no longer to ${old.account}` : ""}. Payments under way stay with the account they began with.`}
            yes={`Use ${change.new.account}`}
            no="Stay as it is"
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

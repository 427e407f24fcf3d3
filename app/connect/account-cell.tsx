import type { Column } from "#server/connections/handshake";
import { Note, Says } from "../parts/marks";
import { Mono, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";

/** The account as the provider describes it, and which keys live payments are made with meanwhile. */
export function AccountCell({ column, name }: { column: Column; name: string }) {
  const { paysWithKeysOf } = column;
  return (
    <Stack $gap={0.6}>
      <ReadBack column={column} name={name} />
      {paysWithKeysOf !== null && (
        <Note meaning="waits">
          Live payments go on with the keys of <When at={paysWithKeysOf} /> until these are proven.
        </Note>
      )}
    </Stack>
  );
}

/** How the account fits the storefront. */
function ReadBack({ column, name }: { column: Column; name: string }) {
  const { account, findings, unanswered } = column;
  if (unanswered) {
    return (
      <Note meaning="wrong">
        {unanswered} What you entered is kept. Try “Prove again” when {name} answers.
      </Note>
    );
  }
  if (!account) return <Small>Read once the keys above are there.</Small>;
  return (
    <Stack $gap={0.5}>
      <p>
        <strong>{account.name}</strong>, <Mono>{account.account}</Mono>, registered in {account.country}
      </p>
      <Small>
        Charges{" "}
        {account.currencies
          .map(({ charged, settled }) =>
            charged === settled ? charged : `${charged} (paid out in ${settled})`,
          )
          .join(", ")}
      </Small>
      {findings.length === 0 ? (
        <Says meaning="proven">fits the storefront</Says>
      ) : (
        findings.map((finding) => (
          <Says key={finding.says} meaning={finding.blocking ? "wrong" : "waits"}>
            {finding.says}
          </Says>
        ))
      )}
    </Stack>
  );
}

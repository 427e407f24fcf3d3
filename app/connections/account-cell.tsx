import { countryWithin } from "#core/places/names";
import { useFetcher } from "react-router";
import type { Mode } from "#core/mode";
import type { AccountState } from "#core/profiles/profile";
import type { Column as SaidColumn } from "#server/connections/handshake";
import { AskFirst } from "../parts/ask";
import { Hint, Wrong } from "../parts/form";
import { type Meaning, Note, Says } from "../parts/marks";
import { Mono, Row, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { AccountChange } from "./account-change";
import { Act } from "./act";
import type { Answer } from "./presses";
import type { Spoken } from "../words/speak";

type Column = Spoken<SaidColumn>;

/** How one applies for an account, and what can be done before it is approved. */
export interface Review {
  apply: string;
  meanwhile: string;
}

const reviewWords: Record<AccountState, [meaning: Meaning, words: string]> = {
  applied: ["waits", "applied for"],
  "in-review": ["waits", "in review"],
  approved: ["proven", "approved"],
  declined: ["wrong", "declined"],
  restricted: ["wrong", "restricted"],
};

/** The account as the provider describes it, what its key may do, and which keys payments are made with meanwhile. */
export function AccountCell({
  column,
  name,
  review,
}: {
  column: Column;
  name: string;
  review: Review | null;
}) {
  const { paysWithKeysOf, account, earlier, mode } = column;
  return (
    <Stack $gap={0.6}>
      <ReadBack column={column} name={name} review={review} />
      {column.rights.map((right) =>
        right.has === false ? (
          <Says key={right.label} meaning="wrong">
            The key lacks the right “{right.label}”. {right.why}
          </Says>
        ) : null,
      )}
      {column.rights.some((right) => right.has) && (
        <Small>
          The key may:{" "}
          {column.rights
            .filter((right) => right.has)
            .map((right) => right.label.toLowerCase())
            .join(", ")}
        </Small>
      )}
      {column.accountChange && <AccountChange change={column.accountChange} />}
      {paysWithKeysOf !== null && (
        <Note meaning="waits">
          Live payments go on with the keys of <When at={paysWithKeysOf} /> until these are proven.
        </Note>
      )}
      {earlier && (
        <Note meaning="waits">
          Newer keys are proven and in use since <When at={earlier.replacedAt} />. The earlier ones (
          {Object.values(earlier.hints)
            .map((hint) => `…${hint}`)
            .join(", ")}
          ){" "}
          {earlier.usedAt !== null ? (
            <>
              are kept for payments made with them, the last one <When at={earlier.usedAt} />
            </>
          ) : (
            "made no payment"
          )}
          . Retire them here, then revoke them over there.
          <Retire mode={mode} used={earlier.usedAt !== null} />
        </Note>
      )}
      {account && (
        <Row>
          <Act
            mode={mode}
            press="prove"
            words="Read again"
            busyWords="Reading…"
            bare
            name={`Read the account again, ${mode}`}
          />
        </Row>
      )}
    </Stack>
  );
}

/** How the account fits the storefront. */
function ReadBack({ column, name, review }: { column: Column; name: string; review: Review | null }) {
  const { account, findings, unanswered } = column;
  if (unanswered) {
    return (
      <Note meaning="wrong">
        {unanswered} What you entered is kept. Try “Prove again” when {name} answers.
      </Note>
    );
  }
  if (!account)
    return (
      <Stack $gap={0.3}>
        <Small>Read once the keys above are there.</Small>
        {review && column.mode === "live" && <Small>No account yet? {review.apply}</Small>}
      </Stack>
    );
  const off = account.methods.filter((method) => !method.on);
  return (
    <Stack $gap={0.5}>
      <p>
        <strong>{account.name}</strong>, <Mono>{account.account}</Mono>, registered in{" "}
        {countryWithin(account.country)}
      </p>
      <ReviewState column={column} review={review} />
      <Small>
        Charges{" "}
        {account.currencies
          .map(({ charged, settled }) =>
            charged === settled ? charged : `${charged} (paid out in ${settled})`,
          )
          .join(", ")}
      </Small>
      {account.methods.some((method) => method.on) && (
        <Small>
          Switched on over there:{" "}
          {account.methods
            .filter((method) => method.on)
            .map(({ name, networks }) => (networks.length > 0 ? `${name} (${networks.join(", ")})` : name))
            .join(", ")}
        </Small>
      )}
      {off.map((method) => (
        <Says key={method.name} meaning="waits">
          {method.name} is switched off over there; switch it on {method.where}.
        </Says>
      ))}
      {account.methods
        .filter((method) => method.off.length > 0)
        .map((method) => (
          <Says key={`${method.name} networks`} meaning="waits">
            {method.off.join(", ")} {method.off.length > 1 ? "are" : "is"} switched off over there; switch{" "}
            {method.off.length > 1 ? "them" : "it"} on {method.where}.
          </Says>
        ))}
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

function ReviewState({
  column: { account, review: state },
  review,
}: {
  column: Column;
  review: Review | null;
}) {
  if (!state || !review) return null;
  const [meaning, words] = reviewWords[state];
  return (
    <>
      <Says meaning={meaning} role="status">
        account {words}
        {state !== "approved" && account?.because ? `: ${account.because}` : ""}
      </Says>
      {state !== "approved" && <Small>{review.meanwhile}</Small>}
      {state !== "approved" && state !== "in-review" && <Small>{review.apply}</Small>}
    </>
  );
}

/** Forgets the earlier keys, after saying what that means. */
function Retire({ mode, used }: { mode: Mode; used: boolean }) {
  const fetcher = useFetcher<Answer>();
  const answer = fetcher.data;
  return (
    <Row>
      <AskFirst
        label="Retire the earlier keys"
        name={`Retire the earlier keys, ${mode}`}
        title={`Retire the earlier ${mode} keys?`}
        says={
          used
            ? "Their values are forgotten here. Payments that began with them go on with the newer keys, where those open the same account."
            : "Their values are forgotten here. No payment was made with them."
        }
        yes="Retire them"
        no="Keep them"
        onYes={() => void fetcher.submit({ press: "retire", mode }, { method: "post" })}
      />
      <Wrong>{answer && !answer.kept ? answer.says : null}</Wrong>
      {answer?.kept && answer.says && <Hint role="status">{answer.says}</Hint>}
    </Row>
  );
}

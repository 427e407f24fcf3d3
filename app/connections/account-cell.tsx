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
import { t } from "../words/pages/connections";

type Column = Spoken<SaidColumn>;

/** How one applies for an account, and what can be done before it is approved. */
export interface Review {
  apply: string;
  meanwhile: string;
}

const reviewWords: Record<AccountState, [meaning: Meaning, words: string]> = {
  applied: ["waits", t("applied-for")],
  "in-review": ["waits", t("in-review")],
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
            {t("the-key-lacks-the-right", { label: right.label, why: right.why })}
          </Says>
        ) : null,
      )}
      {column.rights.some((right) => right.has) && (
        <Small>
          {t("the-key-may-rights", {
            rights: column.rights
              .filter((right) => right.has)
              .map((right) => right.label.toLowerCase())
              .join(", "),
          })}
        </Small>
      )}
      {column.accountChange && <AccountChange change={column.accountChange} />}
      {paysWithKeysOf !== null && (
        <Note meaning="waits">{t("live-payments-go-on-with", { when: <When at={paysWithKeysOf} /> })}</Note>
      )}
      {earlier && (
        <Note meaning="waits">
          {t("newer-keys-are-proven-and", {
            when: <When at={earlier.replacedAt} />,
            hints: Object.values(earlier.hints)
              .map((hint) => `…${hint}`)
              .join(", "),
            usedAt:
              earlier.usedAt !== null
                ? t("are-kept-for-payments-made", { when: <When at={earlier.usedAt} /> })
                : t("made-no-payment"),
            retire: <Retire mode={mode} used={earlier.usedAt !== null} />,
          })}
        </Note>
      )}
      {account && (
        <Row>
          <Act
            mode={mode}
            press="prove"
            words={t("read-again")}
            busyWords={t("reading")}
            bare
            name={t("read-the-account-again-mode", { mode })}
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
    return <Note meaning="wrong">{t("unanswered-what-you-entered-is", { unanswered, name })}</Note>;
  }
  if (!account)
    return (
      <Stack $gap={0.3}>
        <Small>{t("read-once-the-keys-above")}</Small>
        {review && column.mode === "live" && (
          <Small>{t("no-account-yet-apply", { apply: review.apply })}</Small>
        )}
      </Stack>
    );
  const off = account.methods.filter((method) => !method.on);
  return (
    <Stack $gap={0.5}>
      <p>
        <strong>{account.name}</strong>
        {t("mono-registered-in-country", {
          mono: <Mono>{account.account}</Mono>,
          country: countryWithin(account.country),
        })}
      </p>
      <ReviewState column={column} review={review} />
      <Small>
        {t("charges-currencies", {
          currencies: account.currencies
            .map(({ charged, settled }) =>
              charged === settled ? charged : t("charged-paid-out-in-settled", { charged, settled }),
            )
            .join(", "),
        })}
      </Small>
      {account.methods.some((method) => method.on) && (
        <Small>
          {t("switched-on-over-there-methods", {
            methods: account.methods
              .filter((method) => method.on)
              .map(({ name, networks }) => (networks.length > 0 ? `${name} (${networks.join(", ")})` : name))
              .join(", "),
          })}
        </Small>
      )}
      {off.map((method) => (
        <Says key={method.name} meaning="waits">
          {t("name-is-switched-off-over", { name: method.name, where: method.where })}
        </Says>
      ))}
      {account.methods
        .filter((method) => method.off.length > 0)
        .map((method) => (
          <Says key={`${method.name} networks`} meaning="waits">
            {t("off-are-switched-off-over", {
              off: method.off.join(", "),
              count: method.off.length,
              where: method.where,
            })}
          </Says>
        ))}
      {findings.length === 0 ? (
        <Says meaning="proven">{t("fits-the-storefront")}</Says>
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
        {t("account-words-state", {
          words,
          state: state !== "approved" && account?.because ? `: ${account.because}` : "",
        })}
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
        label={t("retire-the-earlier-keys")}
        name={t("retire-the-earlier-keys-mode", { mode })}
        title={t("retire-the-earlier-mode-keys", { mode })}
        says={used ? t("their-values-are-forgotten-here") : t("their-values-are-forgotten-here-no")}
        yes={t("retire-them")}
        no={t("keep-them")}
        onYes={() => void fetcher.submit({ press: "retire", mode }, { method: "post" })}
      />
      <Wrong>{answer && !answer.kept ? answer.says : null}</Wrong>
      {answer?.kept && answer.says && <Hint role="status">{answer.says}</Hint>}
    </Row>
  );
}

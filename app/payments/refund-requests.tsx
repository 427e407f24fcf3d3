import { useFetcher } from "react-router";
import { Amount } from "../parts/amount";
import { Button, Wrong } from "../parts/form";
import { Note } from "../parts/marks";
import { Row, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { t } from "../words/pages/payment";

export interface RefundRequestView {
  id: string;
  amount: number;
  reason: string;
  person: string;
  at: number;
  state: "open" | "agreed" | "declined";
  decidedBy: string | null;
  decidedAt: number | null;
}

interface Props {
  requests: readonly RefundRequestView[];
  currency: string;
  locale: string;
  /** Who is looking: they cannot agree to what they asked for. */
  viewer: string;
}

/** Refunds that wait for a second person, with the presses of that person; and how earlier ones were decided. */
export function RefundRequests({ requests, currency, locale, viewer }: Props) {
  return requests.map((one) =>
    one.state === "open" ? (
      <Waiting key={one.id} request={one} currency={currency} locale={locale} own={one.person === viewer} />
    ) : (
      <Small key={one.id}>
        {t("a-refund-of-amount-that", {
          amount: <Amount amount={one.amount} currency={currency} locale={locale} />,
          person: one.person,
          agreed: one.state === "agreed" ? "yes" : "no",
          decidedBy: one.decidedBy,
          decidedAt: one.decidedAt !== null && (
            <>
              , <When at={one.decidedAt} />
            </>
          ),
        })}
      </Small>
    ),
  );
}

function Waiting({
  request,
  currency,
  locale,
  own,
}: {
  request: RefundRequestView;
  currency: string;
  locale: string;
  own: boolean;
}) {
  const fetcher = useFetcher<{ ok: boolean; says: string }>();
  const busy = fetcher.state !== "idle";
  return (
    <Note meaning="waits">
      <fetcher.Form method="post">
        <Stack $gap={0.4}>
          <span>
            {t("person-wants-to-refund", {
              hasOwn: own ? "yes" : "no",
              person: request.person,
              amount: (
                <strong>
                  <Amount amount={request.amount} currency={currency} locale={locale} />
                </strong>
              ),
              reason: request.reason,
              when: <When at={request.at} />,
            })}
          </span>
          <input type="hidden" name="request" value={request.id} />
          <Row>
            {!own && (
              <Button name="press" value="agree" $kind="danger" disabled={busy}>
                {t("agree-and-refund-it")}
              </Button>
            )}
            <Button name="press" value="decline" disabled={busy}>
              {t("decline", { hasOwn: own ? "yes" : "no" })}
            </Button>
          </Row>
          {fetcher.data && !fetcher.data.ok && <Wrong>{fetcher.data.says}</Wrong>}
        </Stack>
      </fetcher.Form>
    </Note>
  );
}

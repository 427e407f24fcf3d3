import { useState } from "react";
import { useFetcher } from "react-router";
import type { LateTerm } from "#core/storefronts/money-terms";
import { Button } from "../parts/form";
import { Note } from "../parts/marks";
import { SelectBox } from "../parts/select-box";
import { Row, Small, Stack } from "../parts/sheet";
import { AmountBox } from "../parts/text-box";
import type { SpokenProblem } from "../words/speak";
import { NarrowSheet } from "./storefront-form";

type Answer = { ok: true } | { ok: false; problems: SpokenProblem[] };

/** What an owner sets about money: what becomes of what comes late, and which refunds want two people. */
export function MoneySettings({
  late,
  fees,
  forbidden,
  from,
}: {
  late: LateTerm;
  fees: string;
  /** Whether the law of the shop's country forbids fees. */
  forbidden: boolean;
  /** From which amount on, by currency, as it is typed. */
  from: readonly { currency: string; text: string }[];
}) {
  const fetcher = useFetcher<Answer>();
  const [typed, setTyped] = useState(Object.fromEntries(from.map((one) => [one.currency, one.text])));
  const problems = fetcher.data && !fetcher.data.ok ? fetcher.data.problems : [];
  const wrong = (path: string) => problems.find((one) => one.path === path)?.says;
  return (
    <NarrowSheet>
      <fetcher.Form method="post" noValidate>
        <Stack>
          <h2>Money</h2>
          <SelectBox
            label="When money comes after its checkout was over"
            name="late"
            defaultValue={late}
            choices={[
              { id: "accept", name: "take it for the order, and tell" },
              { id: "return", name: "give it back, and tell" },
              { id: "ask", name: "ask a person" },
            ]}
          />
          <Small>
            A bank or a wallet may say yes when the shopper has long gone. Until a person has decided, the
            order stays unpaid.
          </Small>
          <SelectBox
            label="Fees for choosing a way of paying"
            name="fees"
            defaultValue={fees}
            choices={[
              { id: "law", name: `as the law of the country has it: ${forbidden ? "refused" : "allowed"}` },
              { id: "allow", name: "allowed" },
              { id: "refuse", name: "refused" },
            ]}
          />
          <Small>
            {forbidden
              ? "In this country fees are forbidden for cards and transfers of private shoppers. Other ways, such as cash on delivery, may cost one: allow fees only for those."
              : "We know of no law of this country against them; what networks and providers agreed with you holds all the same."}
          </Small>
          <Row $align="end">
            {from.map(({ currency }) => (
              <AmountBox
                key={currency}
                name={`from-${currency}`}
                label={`Refunds that want two people, from (${currency})`}
                currency={currency}
                value={typed[currency] ?? ""}
                onChange={(text) => setTyped({ ...typed, [currency]: text })}
                size={10}
                wrong={wrong(`from-${currency}`)}
              />
            ))}
          </Row>
          <Small>Left empty: one person is enough. The shop’s own calls are held to it as well.</Small>
          {fetcher.data?.ok && fetcher.state === "idle" && <Note meaning="proven">Saved.</Note>}
          <div>
            <Button name="press" value="money" disabled={fetcher.state !== "idle"}>
              Save what becomes of money
            </Button>
          </div>
        </Stack>
      </fetcher.Form>
    </NarrowSheet>
  );
}

import { Form } from "react-router";
import { Button } from "../parts/form";
import { Row, Small, Stack } from "../parts/sheet";
import type catalogue from "../words/mine.json";
import type { ShoppersAct, subscribedTo } from "./subscribed.server";

type Words = (typeof catalogue)["en"];
type One = Awaited<ReturnType<typeof subscribedTo>>[number];

const actWords = (words: Words): Record<ShoppersAct, string> => ({
  pause: words.pause,
  resume: words.resume,
  skip: words.skip,
  "cancel-at-end": words.end,
  "go-on": words.goOn,
});

/** When it is charged next, or why it is not. */
function saysOf({ state, ends, day, sum }: One, words: Words): string {
  if (state === "behind") return words.behind;
  if (state === "paused") return words.paused;
  const filled = (text: string) => text.replace("{sum}", sum).replace("{day}", day ?? "");
  return filled(ends ? words.endsOn : words.next);
}

/** What a shopper subscribes to, and what they can do with it. */
export function Subscribed({ subscribed, words }: { subscribed: readonly One[]; words: Words }) {
  const names = actWords(words);
  return (
    <Stack>
      <h2>{words.subscriptions}</h2>
      {subscribed.map((one) => (
        <Form method="post" key={one.id} aria-label={one.name}>
          <input type="hidden" name="subscription" value={one.id} />
          <Stack $gap={0.3}>
            <strong>
              <bdi>{one.name}</bdi>
            </strong>
            <Small>{saysOf(one, words)}</Small>
            {one.chargedTo && <Small>{words.chargedTo.replace("{name}", one.chargedTo)}</Small>}
            <Row>
              {one.pay && (
                <Button as="a" href={one.pay} $kind="main">
                  {words.payNow}
                </Button>
              )}
              {one.others.map(({ id, name }) => (
                <Button
                  key={id}
                  name="to"
                  value={id}
                  aria-label={`${words.chargeTo.replace("{name}", name)}: ${one.name}`}
                >
                  {words.chargeTo.replace("{name}", name)}
                </Button>
              ))}
              {one.takesNew && (
                <Button name="new" value="yes" aria-label={`${words.chargeToNew}: ${one.name}`}>
                  {words.chargeToNew}
                </Button>
              )}
              {one.acts.map((act) => (
                <Button key={act} name="act" value={act} aria-label={`${names[act]}: ${one.name}`}>
                  {names[act]}
                </Button>
              ))}
            </Row>
          </Stack>
        </Form>
      ))}
    </Stack>
  );
}

import { Form } from "react-router";
import { styled } from "styled-components";
import { LONGEST_SLIP, type SlipScene } from "#core/ways/offline/slip";
import { Button, Field, Input, Wrong } from "../parts/form";
import { Note } from "../parts/marks";
import { Stack } from "../parts/sheet";
import { color } from "../theme/tokens";
import type { CheckoutWords } from "./words";

const Asked = styled.section`
  border-block-start: 1px solid ${color.rule};
  padding-block-start: 0.8rem;
`;

/** What a shopper sends in to show that it was paid; it works without scripts. */
export function Slip({
  slip: { asks, says: wanted, state, open },
  says,
  words,
}: {
  slip: SlipScene;
  says: string | null;
  words: CheckoutWords;
}) {
  const wrong =
    says === "slip-unreadable" ? words.slipUnread : says === "slip-too-large" ? words.slipTooLarge : null;
  return (
    <Asked>
      <Stack $gap={0.6}>
        <h3>{wanted ?? words.slip}</h3>
        {state === "refused" && <Note meaning="wrong">{words.slipRefused}</Note>}
        {state === "open" || state === "accepted" ? <Note meaning="running">{words.slipSent}</Note> : null}
        {open && (
          // Without a reload the browser would keep the file that was sent.
          <Form method="post" encType="multipart/form-data" reloadDocument key={state}>
            <Stack $gap={0.5}>
              <Field>
                {asks === "text" ? words.slipText : words.slipFile}
                <Input
                  name="slip"
                  required
                  aria-invalid={wrong ? true : undefined}
                  {...(asks === "text"
                    ? { maxLength: LONGEST_SLIP, autoComplete: "off" }
                    : { type: "file", accept: "image/png,image/jpeg,image/webp,application/pdf" })}
                />
              </Field>
              <Wrong>{wrong}</Wrong>
              <div>
                <Button name="press" value="slip">
                  {words.slipSend}
                </Button>
              </div>
            </Stack>
          </Form>
        )}
      </Stack>
    </Asked>
  );
}

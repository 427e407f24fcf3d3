import type { KeepScope } from "#core/instruments";
import { fieldId } from "../parts/error-summary";
import { Field, Hint, Select, Wrong } from "../parts/form";
import { Stack } from "../parts/sheet";
import { saysAt } from "../words/says-at";
import type { OfferPart } from "./fields";

const scopeNames: Record<KeepScope | "none", string> = {
  none: "Nothing is kept",
  storefront: "Kept for this storefront",
  shop: "Kept for every storefront that the connection serves",
};

/** Whether shoppers whom the shop has signed in may keep what they pay with, and for where. */
export function KeepFields({ draft, edit, problems, provider }: OfferPart & { provider: string }) {
  return (
    <Stack $gap={0.25}>
      <Field>
        What shoppers pay with, for the next time
        <Select
          id={fieldId("keeps")}
          aria-describedby={`${fieldId("keeps")}-hint`}
          value={draft.keeps}
          onChange={(event) => edit({ keeps: event.target.value as KeepScope | "none" })}
        >
          {Object.entries(scopeNames).map(([id, name]) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Select>
      </Field>
      <Hint id={`${fieldId("keeps")}-hint`}>
        Only shoppers whom the shop has signed in are asked, and only what they agree to is kept: by{" "}
        {provider}, and here as a name. They see and forget it on a page that the shop opens for them. For
        every storefront: only where all of them call a shopper by the same id.
      </Hint>
      <Wrong>{saysAt(problems, "keeps")}</Wrong>
    </Stack>
  );
}

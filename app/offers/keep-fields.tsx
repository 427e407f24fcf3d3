import type { KeepScope } from "#core/instruments";
import { fieldId } from "../parts/error-summary";
import { SelectBox } from "../parts/select-box";
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
    <SelectBox
      label="What shoppers pay with, for the next time"
      id={fieldId("keeps")}
      value={draft.keeps}
      onChange={(chosen) => edit({ keeps: chosen as KeepScope | "none" })}
      choices={Object.entries(scopeNames).map(([id, name]) => ({ id, name }))}
      hint={
        <>
          Only shoppers whom the shop has signed in are asked, and only what they agree to is kept: by{" "}
          {provider}, and here as a name. They see and forget it on a page that the shop opens for them. For
          every storefront: only where all of them call a shopper by the same id.
        </>
      }
      wrong={saysAt(problems, "keeps")}
    />
  );
}

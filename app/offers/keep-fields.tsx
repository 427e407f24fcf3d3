import type { KeepScope } from "#core/instruments";
import { fieldId } from "../parts/error-summary";
import { SelectBox } from "../parts/select-box";
import { saysAt } from "../words/says-at";
import type { OfferPart } from "./fields";
import { t } from "../words/pages/offers";

const scopeNames: Record<KeepScope | "none", string> = {
  none: t("nothing-is-kept"),
  storefront: t("kept-for-this-storefront"),
  shop: t("kept-for-every-storefront-that"),
};

/** Whether shoppers whom the shop has signed in may keep what they pay with, and for where. */
export function KeepFields({ draft, edit, problems, provider }: OfferPart & { provider: string }) {
  return (
    <SelectBox
      label={t("what-shoppers-pay-with-for")}
      id={fieldId("keeps")}
      value={draft.keeps}
      onChange={(chosen) => edit({ keeps: chosen as KeepScope | "none" })}
      choices={Object.entries(scopeNames).map(([id, name]) => ({ id, name }))}
      hint={t("only-shoppers-whom-the-shop", { provider })}
      wrong={saysAt(problems, "keeps")}
    />
  );
}

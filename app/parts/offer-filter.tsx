import { SelectBox } from "./select-box";
import { t } from "../words/pages/parts";

/** Narrows a list to one way of paying. */
export function OfferFilter({
  offers,
  chosen,
}: {
  offers: readonly { id: string; name: string; account: string }[];
  chosen: string | null;
}) {
  return (
    <SelectBox
      label={t("method")}
      name="offer"
      defaultValue={chosen ?? ""}
      choices={[
        { id: "", name: t("any") },
        ...offers.map((one) => ({ id: one.id, name: `${one.name} (${one.account})` })),
      ]}
    />
  );
}

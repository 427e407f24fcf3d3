import { SelectBox } from "./select-box";
import { t } from "../words/pages/parts";

/** Narrows a list to one account. */
export function AccountFilter({
  accounts,
  chosen,
}: {
  accounts: readonly { id: string; name: string }[];
  chosen: string | null;
}) {
  return (
    <SelectBox
      label={t("account")}
      name="connection"
      defaultValue={chosen ?? ""}
      choices={[{ id: "", name: t("any") }, ...accounts.map((one) => ({ id: one.id, name: one.name }))]}
    />
  );
}

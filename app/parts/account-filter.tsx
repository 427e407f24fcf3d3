import { SelectBox } from "./select-box";

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
      label="Account"
      name="connection"
      defaultValue={chosen ?? ""}
      choices={[{ id: "", name: "Any" }, ...accounts.map((one) => ({ id: one.id, name: one.name }))]}
    />
  );
}

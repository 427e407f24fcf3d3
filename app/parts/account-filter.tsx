import { Field, Select } from "./form";

/** Narrows a list to one account. */
export function AccountFilter({
  accounts,
  chosen,
}: {
  accounts: readonly { id: string; name: string }[];
  chosen: string | null;
}) {
  return (
    <Field>
      Account
      <Select name="connection" defaultValue={chosen ?? ""}>
        <option value="">Any</option>
        {accounts.map((one) => (
          <option key={one.id} value={one.id}>
            {one.name}
          </option>
        ))}
      </Select>
    </Field>
  );
}

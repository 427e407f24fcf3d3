import { Field, Select } from "./form";

/** Narrows a list to one way of paying. */
export function OfferFilter({
  offers,
  chosen,
}: {
  offers: readonly { id: string; name: string; account: string }[];
  chosen: string | null;
}) {
  return (
    <Field>
      Method
      <Select name="offer" defaultValue={chosen ?? ""}>
        <option value="">Any</option>
        {offers.map((one) => (
          <option key={one.id} value={one.id}>
            {one.name} ({one.account})
          </option>
        ))}
      </Select>
    </Field>
  );
}

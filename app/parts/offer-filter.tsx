import { SelectBox } from "./select-box";

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
      label="Method"
      name="offer"
      defaultValue={chosen ?? ""}
      choices={[
        { id: "", name: "Any" },
        ...offers.map((one) => ({ id: one.id, name: `${one.name} (${one.account})` })),
      ]}
    />
  );
}

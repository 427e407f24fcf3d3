import { useLocation } from "react-router";
import { paymentStates, stateWords } from "#core/payments/facts";
import { AccountFilter } from "../parts/account-filter";
import { CheckBox } from "../parts/check-box";
import { DateBox } from "../parts/date-box";
import { Filters } from "../parts/filters";
import { OfferFilter } from "../parts/offer-filter";
import { SelectBox } from "../parts/select-box";
import { Row } from "../parts/sheet";
import { TextBox } from "../parts/text-box";
import type { PaymentsView } from "./payments-view";

/** What narrows the list of payments; it stands in the address. */
export function PaymentFilters({ view }: { view: PaymentsView }) {
  const { filter, offers, accounts, amount, currency } = view;
  const { search } = useLocation();
  const query = new URLSearchParams(search);
  const typed = query.get("amount") ?? "";
  return (
    <Filters
      key={["mode", "state", "offer", "connection"].map((name) => query.get(name)).join()}
      label="Payments"
      keep={["mode", "columns", "sort"]}
    >
      <TextBox
        label="Order, reference, e-mail or last four"
        name="q"
        type="text"
        defaultValue={filter.query}
        maxLength={80}
      />
      <SelectBox
        label="State"
        name="state"
        defaultValue={filter.state ?? ""}
        choices={[
          { id: "", name: "Any" },
          ...paymentStates.map((state) => ({ id: state, name: stateWords(state) })),
        ]}
      />
      <AccountFilter accounts={accounts} chosen={filter.connection} />
      <OfferFilter offers={offers} chosen={filter.offer} />
      <TextBox
        label="Paid with"
        name="with"
        type="text"
        size={8}
        defaultValue={filter.instrument ?? ""}
        maxLength={40}
      />
      <TextBox
        label="Amount"
        name="amount"
        type="text"
        size={8}
        defaultValue={typed}
        maxLength={20}
        wrong={typed !== "" && amount === "" ? "This is no amount." : undefined}
        hint={typed !== "" && amount !== "" ? `Read as ${amount} ${currency}.` : undefined}
      />
      <DateBox label="From" name="from" defaultValue={query.get("from") ?? ""} />
      <DateBox label="To" name="to" defaultValue={query.get("to") ?? ""} />
      {filter.mode === "test" && (
        <Row>
          <CheckBox name="rehearsals" value="1" defaultChecked={filter.rehearsals}>
            {" "}
            With rehearsals
          </CheckBox>
          <CheckBox name="archived" value="1" defaultChecked={filter.archived}>
            {" "}
            With those from before the cutover
          </CheckBox>
        </Row>
      )}
    </Filters>
  );
}

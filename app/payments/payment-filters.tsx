import { useLocation } from "react-router";
import { paymentStates, stateWords } from "#core/payments/facts";
import { AccountFilter } from "../parts/account-filter";
import { Filters } from "../parts/filters";
import { Check, Field, Select } from "../parts/form";
import { OfferFilter } from "../parts/offer-filter";
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
      <Field>
        State
        <Select name="state" defaultValue={filter.state ?? ""}>
          <option value="">Any</option>
          {paymentStates.map((state) => (
            <option key={state} value={state}>
              {stateWords(state)}
            </option>
          ))}
        </Select>
      </Field>
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
      <TextBox label="From" type="date" name="from" defaultValue={query.get("from") ?? ""} />
      <TextBox label="To" type="date" name="to" defaultValue={query.get("to") ?? ""} />
      {filter.mode === "test" && (
        <Row>
          <Check>
            <input type="checkbox" name="rehearsals" value="1" defaultChecked={filter.rehearsals} /> With
            rehearsals
          </Check>
          <Check>
            <input type="checkbox" name="archived" value="1" defaultChecked={filter.archived} /> With those
            from before the cutover
          </Check>
        </Row>
      )}
    </Filters>
  );
}

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
import { t } from "../words/pages/payments";

/** What narrows the list of payments; it stands in the address. */
export function PaymentFilters({ view }: { view: PaymentsView }) {
  const { filter, offers, accounts, amount, currency } = view;
  const { search } = useLocation();
  const query = new URLSearchParams(search);
  const typed = query.get("amount") ?? "";
  return (
    <Filters
      key={["mode", "state", "offer", "connection"].map((name) => query.get(name)).join()}
      label={t("payments")}
      keep={["mode", "columns", "sort"]}
    >
      <TextBox
        label={t("order-reference-e-mail-or")}
        name="q"
        type="text"
        defaultValue={filter.query}
        maxLength={80}
      />
      <SelectBox
        label={t("state")}
        name="state"
        defaultValue={filter.state ?? ""}
        choices={[
          { id: "", name: t("any") },
          ...paymentStates.map((state) => ({ id: state, name: stateWords(state) })),
        ]}
      />
      <AccountFilter accounts={accounts} chosen={filter.connection} />
      <OfferFilter offers={offers} chosen={filter.offer} />
      <TextBox
        label={t("paid-with")}
        name="with"
        type="text"
        size={8}
        defaultValue={filter.instrument ?? ""}
        maxLength={40}
      />
      <TextBox
        label={t("amount")}
        name="amount"
        type="text"
        size={8}
        defaultValue={typed}
        maxLength={20}
        wrong={typed !== "" && amount === "" ? t("this-is-no-amount") : undefined}
        hint={typed !== "" && amount !== "" ? t("read-as-amount-currency", { amount, currency }) : undefined}
      />
      <DateBox label={t("from")} name="from" defaultValue={query.get("from") ?? ""} />
      <DateBox label={t("to")} name="to" defaultValue={query.get("to") ?? ""} />
      {filter.mode === "test" && (
        <Row>
          <CheckBox name="rehearsals" value="1" defaultChecked={filter.rehearsals}>
            {" "}
            {t("with-rehearsals")}
          </CheckBox>
          <CheckBox name="archived" value="1" defaultChecked={filter.archived}>
            {" "}
            {t("with-those-from-before-the")}
          </CheckBox>
        </Row>
      )}
    </Filters>
  );
}

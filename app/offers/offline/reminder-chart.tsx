import { remindersOf, type OfflineTerms } from "#core/ways/offline/terms";
import { fieldId } from "../../parts/error-summary";
import { FieldSet, Hint, Wrong } from "../../parts/form";
import { DayChart, dayMarks, toggled } from "../day-chart";
import { t } from "../../words/pages/ways-offline";

/** So many days are drawn at most; whoever waits longer than that types it. */
const MOST_DRAWN = 60;

type RowName = "reminders" | "ends";

/** What becomes of an order that is not paid when it is due: letters that remind, and the day on which it is given up. */
export function ReminderChart({
  terms,
  put,
  wrong,
}: {
  terms: OfflineTerms;
  put: (change: Pick<OfflineTerms, "reminders" | "expireDays">) => void;
  wrong: string | undefined;
}) {
  const { expireDays: ends } = terms;
  const reminders = remindersOf(terms);
  const press = (row: RowName, day: number) => {
    if (row === "reminders") return put({ reminders: toggled(reminders, day), expireDays: ends });
    const until = ends === day ? null : day;
    put({ reminders: reminders.filter((one) => until === null || one < until), expireDays: until });
  };
  return (
    <FieldSet id={fieldId("offline.reminders")}>
      <legend>{t("when-it-is-overdue")}</legend>
      <DayChart<RowName>
        rows={[
          { name: "reminders", says: t("reminded-by-mail"), mark: dayMarks.letter, days: reminders, from: 0 },
          {
            ...{ name: "ends", says: t("given-up"), mark: dayMarks.end, from: 0 },
            days: ends === null ? [] : [ends],
          },
        ]}
        ends={{ name: "ends", day: ends }}
        longest={MOST_DRAWN}
        onPress={press}
      />
      <Hint>{t("reminders-go-to-shoppers-by")}</Hint>
      <Wrong>{wrong}</Wrong>
    </FieldSet>
  );
}

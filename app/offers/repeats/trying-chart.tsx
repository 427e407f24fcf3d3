import { LONGEST_TRYING, type Trying } from "#core/subscriptions/plan";
import { fieldId } from "../../parts/error-summary";
import { Button, FieldSet, Hint, Wrong } from "../../parts/form";
import { Row } from "../../parts/sheet";
import { DayChart, dayMarks, toggled } from "../day-chart";
import { t } from "../../words/pages/plans";

type RowName = "tries" | "asks" | "ends";

/** What becomes of a charge that is refused, day by day after it was due: a chart whose squares are pressed. */
export function TryingChart({
  trying,
  onChange,
  wrong,
}: {
  trying: Trying;
  onChange: (trying: Trying) => void;
  wrong: string | undefined;
}) {
  const { tries, asks, ends } = trying;
  const press = (row: RowName, day: number) => {
    if (row === "ends") {
      const until = ends === day ? null : day;
      const before = (list: readonly number[]) => list.filter((one) => until === null || one < until);
      onChange({ tries: before(tries), asks: before(asks), ends: until });
    } else onChange({ ...trying, [row]: toggled(trying[row], day) });
  };
  return (
    <FieldSet id={fieldId("repeats.trying")}>
      <legend>{t("when-a-charge-is-refused")}</legend>
      <DayChart<RowName>
        rows={[
          { name: "tries", says: t("charged-again"), mark: dayMarks.charge, days: tries, from: 1 },
          { name: "asks", says: t("asked-by-mail"), mark: dayMarks.letter, days: asks, from: 0 },
          {
            ...{ name: "ends", says: t("ends-unless-paid"), mark: dayMarks.end, from: 1 },
            days: ends === null ? [] : [ends],
          },
        ]}
        ends={{ name: "ends", day: ends }}
        longest={LONGEST_TRYING}
        onPress={press}
      />
      <Hint>{t("cards-that-have-expired-a", { noEnds: ends === null ? "yes" : "no" })}</Hint>
      {Math.max(...tries, ...asks, ends ?? 0) > 0 && (
        <Row>
          <Button type="button" onClick={() => onChange({ tries: [], asks: [0], ends: null })}>
            {t("only-ask-at-once")}
          </Button>
        </Row>
      )}
      <Wrong>{wrong}</Wrong>
    </FieldSet>
  );
}

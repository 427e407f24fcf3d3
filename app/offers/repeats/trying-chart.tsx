import { styled } from "styled-components";
import { LONGEST_TRYING, type Trying } from "#core/subscriptions/plan";
import { fieldId } from "../../parts/error-summary";
import { Button, FieldSet, Hint, Wrong } from "../../parts/form";
import { Row } from "../../parts/sheet";
import { color, tabular } from "../../theme/tokens";

/** So many days are drawn at least, and so many beyond the last that says something. */
const [LEAST_DAYS, BEYOND] = [15, 4];

const Chart = styled.table`
  border-collapse: collapse;
  font-size: 0.88rem;
  ${tabular}
  th {
    font-weight: 600;
    text-align: start;
    padding-inline-end: 0.8rem;
    white-space: nowrap;
  }
  thead th {
    font-weight: 400;
    color: ${color.inkSoft};
    text-align: center;
    padding: 0;
  }
  td {
    padding: 0;
    border-bottom: 1px solid ${color.rule};
    border-inline-end: 1px solid ${color.rule};
  }
  tr > td:first-of-type {
    border-inline-start: 1.5px solid ${color.ink};
  }
`;
const Cell = styled.label<{ $over: boolean }>`
  display: grid;
  place-items: center;
  width: 1.7rem;
  height: 1.9rem;
  cursor: pointer;
  background: ${({ $over }) => ($over ? color.sunk : "transparent")};
  &:focus-within {
    outline: 2px solid ${color.petrol};
    outline-offset: -2px;
  }
  input {
    position: absolute;
    opacity: 0;
    pointer-events: none;
  }
  svg {
    fill: none;
    stroke: ${color.rule};
    stroke-width: 1.5;
  }
  input:checked + svg {
    fill: currentColor;
    stroke: currentColor;
  }
`;
const Scroller = styled.div`
  overflow-x: auto;
  max-width: 100%;
`;

const marks = {
  tries: <circle cx="7" cy="7" r="4.5" />,
  asks: <path d="M1.5 3.5h11v7h-11z" />,
  ends: <path d="M5.5 1.5h3v11h-3z" />,
};
const rowNames = { tries: "Charged again", asks: "Asked by mail", ends: "Ends unless paid" };
type RowName = keyof typeof marks;

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
  const last = Math.max(...tries, ...asks, ends ?? 0);
  const days = Array.from(
    { length: Math.min(LONGEST_TRYING, Math.max(LEAST_DAYS, last + BEYOND)) + 1 },
    (_, day) => day,
  );
  const has: Record<RowName, (day: number) => boolean> = {
    tries: (day) => tries.includes(day),
    asks: (day) => asks.includes(day),
    ends: (day) => ends === day,
  };
  const toggled = (list: readonly number[], day: number) =>
    list.includes(day) ? list.filter((one) => one !== day) : [...list, day].sort((a, b) => a - b);
  const press = (row: RowName, day: number) => {
    if (row === "ends") {
      const until = ends === day ? null : day;
      const before = (list: readonly number[]) => list.filter((one) => until === null || one < until);
      onChange({ tries: before(tries), asks: before(asks), ends: until });
    } else onChange({ ...trying, [row]: toggled(trying[row], day) });
  };
  return (
    <FieldSet id={fieldId("repeats.trying")}>
      <legend>When a charge is refused</legend>
      <Scroller tabIndex={0} role="region" aria-label="What follows, day by day">
        <Chart>
          <thead>
            <tr>
              <th scope="col">Days after it was due</th>
              {days.map((day) => (
                <th key={day} scope="col">
                  {day}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {(["tries", "asks", "ends"] as const).map((row) => (
              <tr key={row}>
                <th scope="row">{rowNames[row]}</th>
                {days.map((day) => (
                  <td key={day}>
                    {(row === "asks" || day > 0) && (
                      <Cell $over={ends !== null && day > ends}>
                        <input
                          type="checkbox"
                          checked={has[row](day)}
                          disabled={row !== "ends" && ends !== null && day >= ends}
                          aria-label={`${rowNames[row]}, day ${day}`}
                          onChange={() => press(row, day)}
                        />
                        <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
                          {marks[row]}
                        </svg>
                      </Cell>
                    )}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </Chart>
      </Scroller>
      <Hint>
        Cards that have expired, a wrong code and whoever the issuer wants to ask first are never charged
        again: there the shopper is asked alone. {ends === null && "Without an end it waits for somebody."}
      </Hint>
      {last > 0 && (
        <Row>
          <Button type="button" onClick={() => onChange({ tries: [], asks: [0], ends: null })}>
            Only ask, at once
          </Button>
        </Row>
      )}
      <Wrong>{wrong}</Wrong>
    </FieldSet>
  );
}

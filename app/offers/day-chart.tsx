import type { ReactNode } from "react";
import { styled } from "styled-components";
import { color, tabular } from "../theme/tokens";
import { CheckBox } from "../parts/check-box";
import { t } from "../words/pages/offers";

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
  td.over {
    background: ${color.sunk};
  }
  tr > td:first-of-type {
    border-inline-start: 1.5px solid ${color.ink};
  }
`;
const Cell = styled.label`
  display: grid;
  place-items: center;
  width: 1.7rem;
  height: 1.9rem;
  cursor: pointer;
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

/** The signs that stand in a chart's squares, each for what happens on a day. */
export const dayMarks = {
  charge: <circle cx="7" cy="7" r="4.5" />,
  letter: <path d="M1.5 3.5h11v7h-11z" />,
  end: <path d="M5.5 1.5h3v11h-3z" />,
};

/** One thing that happens on days after something was due. */
export interface DayRow<N extends string> {
  name: N;
  says: string;
  mark: ReactNode;
  days: readonly number[];
  /** The first day on which it can be. */
  from: number;
}

/** What happens on which day after something was due: a chart whose squares are pressed. `ends`: after it nothing else is. */
export function DayChart<N extends string>({
  rows,
  ends,
  longest,
  onPress,
}: {
  rows: readonly DayRow<N>[];
  ends: { name: N; day: number | null };
  longest: number;
  onPress: (name: N, day: number) => void;
}) {
  const last = Math.max(...rows.flatMap(({ days }) => days), ends.day ?? 0);
  const days = Array.from(
    { length: Math.min(longest, Math.max(LEAST_DAYS, last + BEYOND)) + 1 },
    (_, day) => day,
  );
  return (
    <Scroller tabIndex={0} role="region" aria-label={t("what-follows-day-by-day")}>
      <Chart>
        <thead>
          <tr>
            <th scope="col">{t("days-after-it-was-due")}</th>
            {days.map((day) => (
              <th key={day} scope="col">
                {day}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.name}>
              <th scope="row">{row.says}</th>
              {days.map((day) => (
                <td key={day} className={ends.day !== null && day > ends.day ? "over" : undefined}>
                  {day >= row.from && (
                    <CheckBox
                      as={Cell}
                      checked={row.days.includes(day)}
                      disabled={row.name !== ends.name && ends.day !== null && day >= ends.day}
                      label={t("says-day-day", { says: row.says, day })}
                      onChange={() => onPress(row.name, day)}
                    >
                      <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
                        {row.mark}
                      </svg>
                    </CheckBox>
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </Chart>
    </Scroller>
  );
}

/** A list of days with one more, or without it. */
export const toggled = (list: readonly number[], day: number): number[] =>
  list.includes(day) ? list.filter((one) => one !== day) : [...list, day].sort((a, b) => a - b);

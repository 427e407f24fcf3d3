import { parseDate, parseTime } from "@internationalized/date";
import { CalendarDays, ChevronLeft, ChevronRight } from "lucide-react";
import { useEffect, useRef } from "react";
import {
  Button as AriaButton,
  Calendar,
  CalendarCell,
  CalendarGrid,
  DateInput,
  DatePicker,
  DateSegment,
  Dialog,
  Group,
  Heading,
  Popover,
  TimeField,
} from "react-aria-components";
import { styled } from "styled-components";
import { color } from "../theme/tokens";

const Place = styled.div`
  position: absolute;
  inset: 0;
  display: grid;
  > * {
    display: grid;
    min-width: 0;
  }
  .line {
    display: flex;
    align-items: stretch;
    min-width: 0;
    border: 1.5px solid ${color.ruleStrong};
    border-radius: 2px;
    background: ${color.sheet};
    font-weight: 400;
  }
  .line:focus-within {
    outline: 3px solid ${color.petrol};
    outline-offset: 2px;
  }
  [data-invalid] .line,
  .line[data-invalid] {
    border: 2px solid ${color.madder};
  }
  .segments {
    flex: 1;
    display: flex;
    align-items: center;
    padding-inline: 0.4rem 0;
    white-space: nowrap;
    font-variant-numeric: tabular-nums;
    font-size: 0.86rem;
  }
  .segments > span {
    padding-inline: 0.08rem;
    border-radius: 2px;
    outline: none;
  }
  .segments > span[data-placeholder] {
    color: ${color.inkSoft};
  }
  .segments > span[data-focused] {
    background: ${color.petrol};
    color: ${color.onFill};
  }
  button {
    display: inline-flex;
    align-items: center;
    min-width: 1.75rem;
    justify-content: center;
    padding: 0;
    border: 0;
    background: none;
    color: ${color.inkSoft};
    cursor: pointer;
  }
`;
const Month = styled(Dialog)`
  padding: 0.6rem 0.7rem 0.7rem;
  background: ${color.sheet};
  border: 1.5px solid ${color.ink};
  outline: none;
  header {
    display: flex;
    align-items: center;
    justify-content: space-between;
    gap: 0.5rem;
    padding-bottom: 0.4rem;
  }
  h2 {
    margin: 0;
    font-size: 0.98rem;
  }
  header button {
    display: inline-flex;
    align-items: center;
    justify-content: center;
    width: 2rem;
    height: 2rem;
    border: 1.5px solid transparent;
    border-radius: 2px;
    background: none;
    color: inherit;
    cursor: pointer;
  }
  header button[data-hovered] {
    border-color: ${color.petrol};
  }
  table {
    border-collapse: collapse;
  }
  th {
    font-size: 0.8rem;
    font-weight: 400;
    color: ${color.inkSoft};
  }
  td {
    padding: 0;
  }
  td > div {
    display: grid;
    place-items: center;
    width: 2.1rem;
    height: 2rem;
    border-bottom: 3px solid transparent;
    cursor: pointer;
    font-variant-numeric: tabular-nums;
    outline: none;
  }
  td > div[data-hovered] {
    background: ${color.petrolSoft};
  }
  td > div[data-selected] {
    border-bottom-color: ${color.petrol};
    font-weight: 700;
  }
  td > div[data-focus-visible] {
    outline: 3px solid ${color.petrol};
    outline-offset: -3px;
  }
  td > div[data-disabled],
  td > div[data-unavailable] {
    color: ${color.inkSoft};
    cursor: default;
    text-decoration: line-through;
  }
  td > div[data-outside-month] {
    display: none;
  }
`;

interface Props {
  kind: "date" | "time";
  max: string | undefined;
  required: boolean;
  id: string;
  value: string;
  isInvalid: boolean;
  labelledBy: string;
  described: string | undefined;
  onChange: (text: string) => void;
  /** It has come, and stands over the browser's own box from now on. */
  onHere: () => void;
}

/** A text as what it says, or nothing where it says none. */
function readAs<T>(read: (text: string) => T, text: string | undefined): T | null {
  try {
    return text ? read(text) : null;
  } catch {
    return null;
  }
}

/** What stands over the browser's own box once it has come: parts to type a day or a time into, and a calendar. */
export default function DateOver({
  kind,
  id,
  value,
  max,
  required,
  isInvalid,
  labelledBy,
  described,
  onChange,
  onHere,
}: Props) {
  const tell = useRef(onHere);
  useEffect(() => tell.current(), []);
  const same = {
    id,
    "aria-labelledby": labelledBy,
    ...(described && { "aria-describedby": described }),
    isRequired: required,
    isInvalid,
    // Whoever sends the form is told by the browser's own box and by the page.
    validationBehavior: "aria" as const,
  };
  const segments = <DateInput className="segments">{(one) => <DateSegment segment={one} />}</DateInput>;
  if (kind === "time")
    return (
      <Place>
        <TimeField
          {...same}
          value={readAs(parseTime, value)}
          onChange={(time) => onChange(time ? time.toString().slice(0, 5) : "")}
        >
          <div className="line">{segments}</div>
        </TimeField>
      </Place>
    );
  const last = readAs(parseDate, max);
  return (
    <Place>
      <DatePicker
        {...same}
        value={readAs(parseDate, value)}
        {...(last && { maxValue: last })}
        onChange={(day) => onChange(day ? day.toString() : "")}
      >
        <Group className="line">
          {segments}
          <AriaButton>
            <CalendarDays size={16} aria-hidden />
          </AriaButton>
        </Group>
        <Popover>
          <Month>
            <Calendar>
              <header>
                <AriaButton slot="previous">
                  <ChevronLeft size={18} aria-hidden />
                </AriaButton>
                <Heading />
                <AriaButton slot="next">
                  <ChevronRight size={18} aria-hidden />
                </AriaButton>
              </header>
              <CalendarGrid>{(day) => <CalendarCell date={day} />}</CalendarGrid>
            </Calendar>
          </Month>
        </Popover>
      </DatePicker>
    </Place>
  );
}

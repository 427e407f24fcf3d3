import { Suspense, useRef, useState } from "react";
import { styled } from "styled-components";
import { carry } from "./carried";
import { CarriedField, Face, type FieldProps, useCarried, useFieldIds } from "./carried-field";
import { box } from "./form";
import { ifItComes } from "./if-it-comes";
import { useInBrowser } from "./when";

const Over = ifItComes(() => import("./date-over"));

const Wide = styled(Face)`
  min-width: 8.1rem;
`;
const Own = styled.input`
  ${box}
  &[aria-hidden] {
    opacity: 0;
    pointer-events: none;
  }
`;

export interface DateBoxProps extends FieldProps {
  /** What is asked for: a day as `2026-11-25`, or a time of day as `14:30`. */
  kind?: "date" | "time";
  /** The last day that can be chosen. */
  max?: string;
  required?: boolean;
}

/**
 * A day or a time, typed in the viewer's way of writing, or a day chosen in a calendar. The browser's own box keeps the
 * place, is what forms send, and is all there is until the calendar has come.
 */
export function DateBox(props: DateBoxProps) {
  const { label, hint, wrong, kind = "date", name, defaultValue = "", max, required = false } = props;
  const ids = useFieldIds(props);
  const here = useInBrowser();
  const own = useRef<HTMLInputElement>(null);
  const [covered, setCovered] = useState(false);
  const [chosen, take] = useCarried(own, defaultValue, props);
  return (
    <CarriedField label={label} hint={hint} wrong={wrong} ids={ids} labels={covered ? undefined : ids.id}>
      <Wide>
        <Own
          ref={own}
          type={kind}
          name={name}
          value={chosen}
          max={max}
          required={required}
          onChange={(event) => take(event.currentTarget.value)}
          {...(covered
            ? { "aria-hidden": true, tabIndex: -1 }
            : {
                id: ids.id,
                "aria-invalid": ids.isInvalid || undefined,
                "aria-describedby": ids.described,
              })}
        />
        {here && (
          <Suspense>
            <Over
              kind={kind}
              id={ids.id}
              value={chosen}
              max={max}
              required={required}
              isInvalid={ids.isInvalid}
              labelledBy={ids.labelId}
              described={ids.described}
              onChange={(text) => carry(own.current, text)}
              onHere={() => setCovered(true)}
            />
          </Suspense>
        )}
      </Wide>
    </CarriedField>
  );
}

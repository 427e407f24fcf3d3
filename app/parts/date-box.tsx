import { type ReactNode, Suspense, useEffect, useId, useRef, useState } from "react";
import { styled } from "styled-components";
import { carry } from "./carried";
import { box, Hint, labelStyle, Wrong } from "./form";
import { ifItComes } from "./if-it-comes";
import { useInBrowser } from "./when";

const Over = ifItComes(() => import("./date-over"));

const Whole = styled.div`
  display: grid;
  gap: 0.25rem;
  align-content: start;
  > label {
    ${labelStyle}
  }
`;
const Face = styled.div`
  position: relative;
  display: grid;
  min-width: 8.1rem;
`;
const Own = styled.input`
  ${box}
  &[aria-hidden] {
    opacity: 0;
    pointer-events: none;
  }
`;

export interface DateBoxProps {
  label: string;
  hint?: ReactNode;
  wrong?: ReactNode;
  invalid?: boolean;
  /** What is asked for: a day as `2026-11-25`, or a time of day as `14:30`. */
  kind?: "date" | "time";
  id?: string;
  name?: string;
  value?: string;
  defaultValue?: string;
  /** The last day that can be chosen. */
  max?: string;
  required?: boolean;
  onChange?: (text: string) => void;
}

/**
 * A day or a time, typed in the viewer's way of writing, or a day chosen in a calendar. The browser's own box keeps the
 * place, is what forms send, and is all there is until the calendar has come.
 */
export function DateBox({
  label,
  hint,
  wrong,
  invalid = false,
  kind = "date",
  id: given,
  name,
  value,
  defaultValue = "",
  max,
  required = false,
  onChange,
}: DateBoxProps) {
  const made = useId();
  const id = given ?? made;
  const here = useInBrowser();
  const own = useRef<HTMLInputElement>(null);
  const [began, setBegan] = useState(defaultValue);
  const [kept, setKept] = useState(defaultValue);
  // What it begins with became another, and nobody has chosen here.
  if (defaultValue !== began) {
    setBegan(defaultValue);
    if (kept === began) setKept(defaultValue);
  }
  const [covered, setCovered] = useState(false);
  const chosen = value ?? kept;
  const take = (next: string) => {
    setKept(next);
    if (next !== chosen) onChange?.(next);
  };
  // What was typed before the page was awake.
  const first = useRef(take);
  useEffect(() => {
    if (own.current) first.current(own.current.value);
  }, []);
  const described = [hint && `${id}-hint`, wrong && `${id}-wrong`].filter(Boolean).join(" ") || undefined;
  const isInvalid = invalid || Boolean(wrong);
  return (
    <Whole>
      <label id={`${id}-label`} htmlFor={covered ? undefined : id}>
        {label}
      </label>
      <Face>
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
                id,
                "aria-invalid": isInvalid || undefined,
                "aria-describedby": described,
              })}
        />
        {here && (
          <Suspense>
            <Over
              kind={kind}
              id={id}
              value={chosen}
              max={max}
              required={required}
              isInvalid={isInvalid}
              labelledBy={`${id}-label`}
              described={described}
              onChange={(text) => carry(own.current, text)}
              onHere={() => setCovered(true)}
            />
          </Suspense>
        )}
      </Face>
      {hint && <Hint id={`${id}-hint`}>{hint}</Hint>}
      {wrong && <Wrong id={`${id}-wrong`}>{wrong}</Wrong>}
    </Whole>
  );
}

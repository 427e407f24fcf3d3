import { type ReactNode, type RefObject, useEffect, useId, useRef, useState } from "react";
import { styled } from "styled-components";
import { Hint, labelStyle, Wrong } from "./form";

const Whole = styled.div`
  position: relative;
  display: grid;
  gap: 0.25rem;
  align-content: start;
  > label {
    ${labelStyle}
  }
`;
/** Where the browser's own box and what stands over it have their place. */
export const Face = styled.div`
  position: relative;
  display: grid;
`;

/** What every field of this kind says, and how it is told what is in it. */
export interface FieldProps {
  label: string;
  hint?: ReactNode;
  wrong?: ReactNode;
  /** Marks it as wrong where what is wrong is said elsewhere. */
  invalid?: boolean;
  id?: string;
  name?: string;
  value?: string;
  defaultValue?: string;
  onChange?: (value: string) => void;
}

/**
 * What is in a field whose box is the browser's own: what the page says, or what it began with until somebody chooses
 * here. What was put in before the page was awake counts, where `counts` says so.
 */
export function useCarried(
  own: RefObject<HTMLInputElement | HTMLSelectElement | null>,
  begins: string,
  { value, onChange }: Pick<FieldProps, "value" | "onChange">,
  counts: (chosen: string) => boolean = () => true,
): [chosen: string, take: (next: string) => void] {
  const [began, setBegan] = useState(begins);
  const [kept, setKept] = useState(begins);
  // What it begins with became another, and nobody has chosen here.
  if (begins !== began) {
    setBegan(begins);
    if (kept === began) setKept(begins);
  }
  const chosen = value ?? kept;
  const take = (next: string) => {
    setKept(next);
    if (next !== chosen) onChange?.(next);
  };
  const first = useRef(() => {
    if (own.current && counts(chosen)) take(own.current.value);
  });
  useEffect(() => first.current(), []);
  return [chosen, take];
}

/** The ids by which a field's label, hint and error belong to its box, and whether it is wrong. */
export function useFieldIds({ id: given, hint, wrong, invalid }: FieldProps) {
  const made = useId();
  const id = given ?? made;
  return {
    id,
    labelId: `${id}-label`,
    hintId: `${id}-hint`,
    wrongId: `${id}-wrong`,
    described: [hint && `${id}-hint`, wrong && `${id}-wrong`].filter(Boolean).join(" ") || undefined,
    isInvalid: Boolean(invalid) || Boolean(wrong),
  };
}

/** A field with its label above and what is said about it below. */
export function CarriedField({
  label,
  hint,
  wrong,
  ids,
  bare = false,
  labels,
  onLabel,
  children,
}: Pick<FieldProps, "label" | "hint" | "wrong"> & {
  ids: ReturnType<typeof useFieldIds>;
  /** Where the label is for readers alone, since the sentence around says it. */
  bare?: boolean;
  /** The id of the box that a press on the label goes to; none where the label does it by itself. */
  labels: string | undefined;
  /** What a press on the label does instead. */
  onLabel?: (() => void) | undefined;
  children: ReactNode;
}) {
  return (
    <Whole>
      {bare ? (
        <span id={ids.labelId} className="quiet">
          {label}
        </span>
      ) : (
        <label
          id={ids.labelId}
          htmlFor={labels}
          onClick={(event) => {
            if (!onLabel) return;
            event.preventDefault();
            onLabel();
          }}
        >
          {label}
        </label>
      )}
      {children}
      {hint && <Hint id={ids.hintId}>{hint}</Hint>}
      {wrong && <Wrong id={ids.wrongId}>{wrong}</Wrong>}
    </Whole>
  );
}

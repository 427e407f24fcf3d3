import { createContext, type ElementType, type ReactNode, useContext, useRef } from "react";
import { useRadio, useRadioGroup } from "react-aria/useRadioGroup";
import { type RadioGroupState, useRadioGroupState } from "react-stately/useRadioGroupState";
import { styled } from "styled-components";
import { Check } from "./form";

const Group = createContext<RadioGroupState | null>(null);
const Rows = styled.div`
  display: grid;
  gap: 0.4rem;
  justify-items: start;
`;

interface Props<T extends string> {
  /** What is asked, to a reader; what is seen of it stands around. */
  label: string;
  value: T;
  onChange: (value: T) => void;
  children: ReactNode;
  /** What they stand in; null where they stand in the cells of a table. */
  as?: ElementType | null;
}

/** One of a few, with the arrows of the keyboard going from one to the next. */
export function Radios<T extends string>({ label, value, onChange, children, as: Around = Rows }: Props<T>) {
  const asked = { "aria-label": label, value, onChange: (chosen: string) => onChange(chosen as T) };
  const state = useRadioGroupState(asked);
  const { radioGroupProps } = useRadioGroup(asked, state);
  return <Group value={state}>{Around ? <Around {...radioGroupProps}>{children}</Around> : children}</Group>;
}

/** One of them. `label` says to a reader what is drawn or said elsewhere; `as` is the label it is drawn in. */
export function Radio({
  value,
  label,
  as: Around = Check,
  children,
}: {
  value: string;
  label?: string | undefined;
  as?: ElementType;
  children: ReactNode;
}) {
  const state = useContext(Group);
  if (!state) throw new Error("A radio stands among radios.");
  const ref = useRef<HTMLInputElement>(null);
  const { inputProps, labelProps } = useRadio(
    { value, children, ...(label !== undefined && { "aria-label": label }) },
    state,
    ref,
  );
  return (
    <Around {...labelProps} title={label}>
      <input {...inputProps} ref={ref} />
      {children}
    </Around>
  );
}

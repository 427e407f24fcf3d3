import { useId, type InputHTMLAttributes, type ReactNode } from "react";
import { useField } from "react-aria/useField";
import { styled } from "styled-components";
import { Hint, Input, labelStyle, Wrong } from "./form";
import { ReadAs } from "./read-as";

const Whole = styled.div`
  display: grid;
  gap: 0.25rem;
  align-content: start;
  label {
    ${labelStyle}
  }
`;

type Native = Omit<InputHTMLAttributes<HTMLInputElement>, "onChange" | "children" | "color">;

export interface TextBoxProps extends Native {
  label: ReactNode;
  hint?: ReactNode;
  /** What is wrong with what stands in it; said when it appears. */
  wrong?: ReactNode;
  onChange?: (text: string) => void;
  /** Marks it as wrong where what is wrong is said elsewhere. */
  invalid?: boolean;
  /** Stands under it, beside the hint. */
  children?: ReactNode;
}

/**
 * One line of text, with its label, its hint and what is wrong with it each in a place of its own. What is typed is
 * the browser's own until a value is given, so that nothing is lost that was typed before the page was awake.
 */
export function TextBox({
  label,
  hint,
  wrong,
  onChange,
  invalid = false,
  children,
  id,
  ...input
}: TextBoxProps) {
  const own = useId();
  const isInvalid = invalid || Boolean(wrong);
  const { labelProps, fieldProps, descriptionProps, errorMessageProps } = useField({
    id: id ?? own,
    label,
    description: hint,
    errorMessage: wrong,
    isInvalid,
  });
  return (
    <Whole>
      <label {...labelProps}>{label}</label>
      <Input
        {...input}
        {...fieldProps}
        aria-invalid={isInvalid || undefined}
        {...(onChange && { onChange: (event) => onChange(event.currentTarget.value) })}
      />
      {hint && <Hint {...descriptionProps}>{hint}</Hint>}
      {children}
      {wrong && (
        <span {...errorMessageProps}>
          <Wrong>{wrong}</Wrong>
        </span>
      )}
    </Whole>
  );
}

/** An amount of a currency, typed in any way of writing; where it could be meant otherwise, how it was read is said. */
export function AmountBox({
  currency,
  children,
  ...rest
}: TextBoxProps & { currency: string; value: string }) {
  return (
    <TextBox inputMode="decimal" maxLength={24} {...rest}>
      <ReadAs text={rest.value} currency={currency} />
      {children}
    </TextBox>
  );
}

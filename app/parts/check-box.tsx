import { type ElementType, type InputHTMLAttributes, type ReactNode, useEffect, useRef } from "react";
import { useCheckbox } from "react-aria/useCheckbox";
import { useToggleState } from "react-stately/useToggleState";
import { Check } from "./form";

type Native = Pick<InputHTMLAttributes<HTMLInputElement>, "className" | "disabled" | "id" | "name">;

interface Props extends Native {
  /** What it is called; without, `label` says so to a reader alone. */
  children?: ReactNode;
  label?: string;
  /** The label it is drawn in. */
  as?: ElementType;
  value?: string;
  checked?: boolean;
  defaultChecked?: boolean;
  onChange?: (checked: boolean) => void;
}

/** One thing that is so or not. It is the browser's own box, so that a form sends it while the page is not awake. */
export function CheckBox({
  children,
  label,
  as: Around = Check,
  checked,
  defaultChecked,
  disabled = false,
  className,
  id,
  name,
  value,
  onChange,
}: Props) {
  const ref = useRef<HTMLInputElement>(null);
  const asked = {
    children,
    isDisabled: disabled,
    ...(label !== undefined && { "aria-label": label }),
    ...(checked !== undefined && { isSelected: checked }),
    ...(defaultChecked !== undefined && { defaultSelected: defaultChecked }),
    ...(id !== undefined && { id }),
    ...(name !== undefined && { name }),
    ...(value !== undefined && { value }),
    ...(onChange && { onChange }),
  };
  const state = useToggleState(asked);
  const { inputProps, labelProps } = useCheckbox(asked, state, ref);
  // What was ticked before the page was awake.
  const first = useRef(state);
  useEffect(() => {
    const own = ref.current;
    if (own && own.checked !== first.current.isSelected) first.current.setSelected(own.checked);
  }, []);
  const own = <input {...inputProps} className={className} ref={ref} />;
  return children === undefined ? (
    own
  ) : (
    <Around {...labelProps}>
      {own}
      {children}
    </Around>
  );
}

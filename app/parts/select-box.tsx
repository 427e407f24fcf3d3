import { ChevronDown } from "lucide-react";
import { type ReactNode, useEffect, useId, useRef, useState } from "react";
import {
  Button as AriaButton,
  ListBox,
  ListBoxItem,
  Popover,
  Select,
  SelectValue,
} from "react-aria-components";
import { styled } from "styled-components";
import { color } from "../theme/tokens";
import { carry } from "./carried";
import { box, Hint, labelStyle, Wrong } from "./form";
import { useInBrowser } from "./when";

const Whole = styled.div`
  position: relative;
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
`;
/** The browser's own keeps the place, so that nothing moves when the page awakes. */
const Own = styled.select`
  ${box}
  &[aria-hidden] {
    opacity: 0;
    pointer-events: none;
  }
`;
const Over = styled(Select)`
  position: absolute;
  inset: 0;
  display: grid;
  button {
    ${box}
    min-height: 0;
    min-width: 0;
    padding-block: 0;
    display: flex;
    align-items: center;
    justify-content: space-between;
    gap: 0.4rem;
    text-align: start;
    color: inherit;
    cursor: pointer;
    &[data-hovered] {
      border-color: ${color.petrol};
    }
    &[data-disabled] {
      opacity: 0.55;
      cursor: default;
    }
  }
  .value {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  svg {
    flex: none;
  }
  &[data-invalid] button {
    border: 2px solid ${color.madder};
  }
`;
const Listed = styled(ListBox<SelectChoice>)`
  min-width: var(--trigger-width);
  max-width: min(36rem, 94vw);
  max-height: 22rem;
  overflow: auto;
  background: ${color.sheet};
  border: 1.5px solid ${color.ink};
  outline: none;
`;
const Entry = styled(ListBoxItem)`
  padding: 0.35rem 0.6rem 0.35rem 0.5rem;
  border-left: 4px solid transparent;
  cursor: pointer;
  outline: none;
  &[data-selected] {
    border-left-color: ${color.petrol};
    font-weight: 600;
  }
  &[data-focused] {
    background: ${color.petrolSoft};
  }
  &[data-disabled] {
    color: ${color.inkSoft};
    cursor: default;
  }
`;

export interface SelectChoice {
  id: string;
  name: string;
  disabled?: boolean;
}

export interface SelectBoxProps {
  label: string;
  /** Where the label is for readers alone, since the sentence around says it. */
  bare?: boolean;
  hint?: ReactNode;
  wrong?: ReactNode;
  /** Marks it as wrong where what is wrong is said elsewhere. */
  invalid?: boolean;
  choices: readonly SelectChoice[];
  id?: string;
  name?: string;
  value?: string;
  defaultValue?: string;
  disabled?: boolean;
  onChange?: (id: string) => void;
}

/** One of a few things, called by their names; for long lists there is one that can be typed into. */
export function SelectBox({
  label,
  bare = false,
  hint,
  wrong,
  invalid = false,
  choices,
  id: given,
  name,
  value,
  defaultValue,
  disabled = false,
  onChange,
}: SelectBoxProps) {
  const made = useId();
  const id = given ?? made;
  const here = useInBrowser();
  const own = useRef<HTMLSelectElement>(null);
  const over = useRef<HTMLButtonElement>(null);
  const begins = defaultValue ?? choices[0]?.id ?? "";
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
  // What was chosen before the page was awake; of what cannot be chosen at all the box shows another, and nobody chose that.
  const first = useRef(() => {
    const shown = own.current?.value;
    if (shown !== undefined && choices.some(({ id }) => id === chosen)) take(shown);
  });
  useEffect(() => first.current(), []);
  const described = [hint && `${id}-hint`, wrong && `${id}-wrong`].filter(Boolean).join(" ") || undefined;
  const isInvalid = invalid || Boolean(wrong);
  return (
    <Whole>
      {bare ? (
        <span id={`${id}-label`} className="quiet">
          {label}
        </span>
      ) : (
        <label
          id={`${id}-label`}
          htmlFor={id}
          onClick={(event) => {
            if (!here) return;
            event.preventDefault();
            over.current?.focus();
          }}
        >
          {label}
        </label>
      )}
      <Face>
        <Own
          ref={own}
          name={name}
          value={chosen}
          disabled={disabled}
          onChange={(event) => take(event.currentTarget.value)}
          {...(here
            ? { "aria-hidden": true, tabIndex: -1 }
            : {
                id,
                "aria-invalid": isInvalid || undefined,
                "aria-describedby": described,
                "aria-labelledby": `${id}-label`,
              })}
        >
          {choices.map((one) => (
            <option key={one.id} value={one.id} disabled={one.disabled}>
              {one.name}
            </option>
          ))}
        </Own>
        {here && (
          <Over
            selectedKey={chosen}
            onSelectionChange={(key) => carry(own.current, String(key))}
            isDisabled={disabled}
            isInvalid={isInvalid}
            disabledKeys={choices.filter((one) => one.disabled).map((one) => one.id)}
            aria-labelledby={`${id}-label`}
            {...(described && { "aria-describedby": described })}
          >
            <AriaButton id={id} ref={over}>
              <SelectValue className="value" />
              <ChevronDown size={16} aria-hidden />
            </AriaButton>
            <Popover>
              <Listed items={choices}>
                {(one) => (
                  <Entry id={one.id} textValue={one.name}>
                    {one.name}
                  </Entry>
                )}
              </Listed>
            </Popover>
          </Over>
        )}
      </Face>
      {hint && <Hint id={`${id}-hint`}>{hint}</Hint>}
      {wrong && <Wrong id={`${id}-wrong`}>{wrong}</Wrong>}
    </Whole>
  );
}

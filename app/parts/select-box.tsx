import { ChevronDown } from "lucide-react";
import { useRef } from "react";
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
import { CarriedField, Face, type FieldProps, useCarried, useFieldIds } from "./carried-field";
import { box } from "./form";
import { useInBrowser } from "./when";

/** The browser's own keeps the place, so that nothing moves when the page awakes. */
const Own = styled.select`
  ${box}
  /* As wide as what it shows once awake: the arrow there takes more room. */
  padding-inline-end: 0.85rem;
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
    gap: 0.3rem;
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

export interface SelectBoxProps extends FieldProps {
  /** Where the label is for readers alone, since the sentence around says it. */
  bare?: boolean;
  choices: readonly SelectChoice[];
  disabled?: boolean;
}

/** One of a few things, called by their names; for long lists there is one that can be typed into. */
export function SelectBox(props: SelectBoxProps) {
  const { label, bare = false, hint, wrong, choices, name, defaultValue, disabled = false } = props;
  const ids = useFieldIds(props);
  const here = useInBrowser();
  const own = useRef<HTMLSelectElement>(null);
  const over = useRef<HTMLButtonElement>(null);
  // Of what cannot be chosen at all the box shows another, and nobody chose that.
  const [chosen, take] = useCarried(own, defaultValue ?? choices[0]?.id ?? "", props, (one) =>
    choices.some(({ id }) => id === one),
  );
  return (
    <CarriedField
      label={label}
      hint={hint}
      wrong={wrong}
      ids={ids}
      bare={bare}
      labels={ids.id}
      onLabel={here ? () => over.current?.focus() : undefined}
    >
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
                id: ids.id,
                "aria-invalid": ids.isInvalid || undefined,
                "aria-describedby": ids.described,
                "aria-labelledby": ids.labelId,
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
            isInvalid={ids.isInvalid}
            disabledKeys={choices.filter((one) => one.disabled).map((one) => one.id)}
            aria-labelledby={ids.labelId}
            {...(ids.described && { "aria-describedby": ids.described })}
          >
            <AriaButton id={ids.id} ref={over}>
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
    </CarriedField>
  );
}

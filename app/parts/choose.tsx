import { ChevronDown, X } from "lucide-react";
import { useState } from "react";
import {
  Button as AriaButton,
  ComboBox,
  FieldError,
  Input,
  Label,
  ListBox,
  ListBoxItem,
  Popover,
  Tag,
  TagGroup,
  TagList,
  Text,
} from "react-aria-components";
import { styled } from "styled-components";
import { color } from "../theme/tokens";
import { hintStyle, labelStyle, wrongStyle } from "./form";
import { useInBrowser } from "./when";
import { t } from "../words/pages/parts";

const Box = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 0.25rem;
  .label {
    ${labelStyle}
  }
  [slot="description"] {
    ${hintStyle}
  }
  .wrong {
    ${wrongStyle}
  }
`;
const Line = styled.div<{ $wrong: boolean }>`
  display: flex;
  border: ${({ $wrong }) => ($wrong ? `2px solid ${color.madder}` : `1.5px solid ${color.ruleStrong}`)};
  border-radius: 2px;
  background: ${color.sheet};
  &:focus-within {
    outline: 3px solid ${color.petrol};
    outline-offset: 2px;
  }
  input {
    flex: 1;
    min-width: 0;
    min-height: 2.1rem;
    padding: 0.3rem 0.55rem;
    border: 0;
    background: none;
    outline: none;
  }
  button {
    border: 0;
    background: none;
    padding: 0 0.5rem;
    cursor: pointer;
    color: ${color.inkSoft};
  }
`;
const Found = styled(ListBox<Choice>)`
  width: max(18rem, var(--trigger-width));
  max-height: 18rem;
  overflow: auto;
  background: ${color.sheet};
  border: 1.5px solid ${color.ink};
  outline: none;
  p {
    padding: 0.4rem 0.6rem;
  }
`;
const Entry = styled(ListBoxItem)`
  display: flex;
  justify-content: space-between;
  gap: 1rem;
  padding: 0.3rem 0.6rem;
  cursor: pointer;
  outline: none;
  code {
    color: ${color.inkSoft};
  }
  &[data-focused] {
    background: ${color.petrolSoft};
  }
`;
const Tags = styled(TagList)`
  display: flex;
  flex-wrap: wrap;
  gap: 0.35rem;
`;
/** The same before the page is awake: the list of tags brings styles of its own that no page of ours may carry. */
const Still = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 0.35rem;
  span {
    display: inline-flex;
    align-items: center;
    gap: 0.55rem;
    min-height: calc(1.5rem + 0.2rem + 3px);
    padding: 0.1rem 0.5rem 0.1rem 0.55rem;
    border: 1.5px solid ${color.ink};
    border-radius: 2px;
  }
`;
const Chosen = styled(Tag)`
  display: inline-flex;
  align-items: center;
  gap: 0.3rem;
  padding: 0.1rem 0.2rem 0.1rem 0.55rem;
  border: 1.5px solid ${color.ink};
  border-radius: 2px;
  cursor: default;
  outline: none;
  &[data-focus-visible] {
    outline: 3px solid ${color.petrol};
    outline-offset: 2px;
  }
  button {
    display: inline-flex;
    min-width: 1.5rem;
    min-height: 1.5rem;
    align-items: center;
    justify-content: center;
    border: 0;
    background: none;
    padding: 0;
    cursor: pointer;
  }
`;

/** Something that can be chosen: what is kept of it, and what people call it. */
export interface Choice {
  id: string;
  name: string;
  /** Stands beside the name, such as a code. */
  code?: string;
}

interface Props {
  label: string;
  hint?: string | undefined;
  wrong?: string | undefined;
  choices: readonly Choice[];
}

/** One of a long list, chosen by typing its name or its code. In a form it is sent as `name`. */
export function ChooseOne({
  value,
  onChange,
  name,
  ...shown
}: Props & { value: string; onChange: (id: string) => void; name?: string }) {
  return (
    <>
      {name && <input type="hidden" name={name} value={value} />}
      <Combo
        {...shown}
        selectedKey={value || null}
        onSelect={(id) => {
          if (id !== null) onChange(id);
        }}
      />
    </>
  );
}

/** Several of a long list, in the order in which they were chosen. In a form they are sent as `name`, with commas. */
export function ChooseMany({
  value,
  onChange,
  name,
  none,
  ...shown
}: Props & {
  value: readonly string[];
  onChange: (ids: string[]) => void;
  name?: string;
  /** What it means that nothing is chosen. */
  none?: string;
}) {
  const named = new Map(shown.choices.map((one) => [one.id, one.name]));
  const [round, setRound] = useState(0);
  const here = useInBrowser();
  return (
    <Box>
      {name && <input type="hidden" name={name} value={value.join(",")} />}
      <Combo
        key={round}
        {...shown}
        choices={shown.choices.filter((one) => !value.includes(one.id))}
        selectedKey={null}
        focus={round > 0}
        onSelect={(id) => {
          if (id === null) return;
          onChange([...value, id]);
          // An empty box for the next.
          setRound(round + 1);
        }}
      />
      {value.length === 0 ? (
        none && <Text slot="description">{none}</Text>
      ) : !here ? (
        <Still>
          {value.map((id) => (
            <span key={id}>
              {named.get(id) ?? id} <X size={14} aria-hidden />
            </span>
          ))}
        </Still>
      ) : (
        <TagGroup
          aria-label={t("label-chosen", { label: shown.label })}
          onRemove={(keys) => onChange(value.filter((one) => !keys.has(one)))}
        >
          <Tags>
            {value.map((id) => (
              <Chosen key={id} id={id} textValue={named.get(id) ?? id}>
                {named.get(id) ?? id}
                <AriaButton slot="remove" aria-label={t("take-out-id", { id: named.get(id) ?? id })}>
                  <X size={14} aria-hidden />
                </AriaButton>
              </Chosen>
            ))}
          </Tags>
        </TagGroup>
      )}
    </Box>
  );
}

function Combo({
  label,
  hint,
  wrong,
  choices,
  selectedKey,
  focus = false,
  onSelect,
}: Props & { selectedKey: string | null; focus?: boolean; onSelect: (id: string | null) => void }) {
  return (
    <ComboBox
      defaultItems={choices}
      {...(selectedKey !== null && { defaultSelectedKey: selectedKey })}
      onSelectionChange={(key) => onSelect(key === null ? null : String(key))}
      isInvalid={wrong !== undefined}
      menuTrigger="input"
      autoFocus={focus}
      allowsEmptyCollection
    >
      <Box>
        <Label className="label">{label}</Label>
        <Line $wrong={wrong !== undefined}>
          <Input />
          <AriaButton aria-label={t("show-all-label", { label })}>
            <ChevronDown size={16} aria-hidden />
          </AriaButton>
        </Line>
        {hint && <Text slot="description">{hint}</Text>}
        <FieldError className="wrong">{wrong}</FieldError>
      </Box>
      <Popover>
        <Found renderEmptyState={() => <p>{t("nothing-is-called-that")}</p>}>
          {(one) => (
            <Entry id={one.id} textValue={`${one.name}${one.code ? ` ${one.code}` : ""}`}>
              <span>{one.name}</span>
              {one.code && <code>{one.code}</code>}
            </Entry>
          )}
        </Found>
      </Popover>
    </ComboBox>
  );
}

import type { RefObject } from "react";
import { Menu, MenuItem, Popover, Separator } from "react-aria-components";
import { styled } from "styled-components";
import { color } from "../theme/tokens";
import type { MenuProps } from "./menu";

const Listed = styled(Menu)`
  min-width: 13rem;
  max-height: 80vh;
  overflow: auto;
  padding: 0.3rem;
  background: ${color.sheet};
  border: 1.5px solid ${color.ink};
  outline: none;
`;
const Item = styled(MenuItem)`
  display: block;
  padding: 0.4rem 0.6rem;
  cursor: pointer;
  outline: none;
  color: ${color.ink};
  text-decoration: none;
  &[data-focused] {
    background: ${color.petrolSoft};
  }
`;
const Rule = styled(Separator)`
  border-top: 1px solid ${color.rule};
  margin: 0.3rem 0;
`;

/** What a menu's button opens: a list that arrows move in, which gives the focus back to the button. */
export default function MenuList({
  trigger,
  begins,
  onClose,
  label,
  choices,
  ends = false,
  chosen,
  fixed,
  onAction,
  onChosen,
}: MenuProps & {
  trigger: RefObject<HTMLButtonElement | null>;
  /** Where the focus begins: with the keyboard at one of its ends, else at none of them. */
  begins: "first" | "last" | true;
  onClose: () => void;
}) {
  return (
    <Popover
      aria-label={label}
      triggerRef={trigger}
      isOpen
      onOpenChange={(open) => !open && onClose()}
      placement={ends ? "bottom end" : "bottom start"}
    >
      <Listed
        aria-label={label}
        autoFocus={begins}
        onClose={onClose}
        {...(onAction && { onAction: (key) => onAction(String(key)) })}
        {...(chosen && {
          selectionMode: "multiple" as const,
          selectedKeys: chosen,
          onSelectionChange: (keys) =>
            onChosen?.(
              choices.flatMap((one) =>
                one !== "rule" && (keys === "all" || keys.has(one.id)) ? one.id : [],
              ),
            ),
        })}
        disabledKeys={fixed ?? []}
      >
        {choices.map((one, i) =>
          one === "rule" ? (
            <Rule key={`rule ${i}`} />
          ) : (
            <Item key={one.id} id={one.id} textValue={one.name}>
              {({ isSelected }) => (chosen ? `${isSelected ? "☑" : "☐"} ${one.name}` : one.name)}
            </Item>
          ),
        )}
      </Listed>
    </Popover>
  );
}

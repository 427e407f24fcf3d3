import { Button as AriaButton, Menu as AriaMenu, MenuItem, Popover, Separator } from "react-aria-components";
import { styled } from "styled-components";
import { color } from "../theme/tokens";

export const Trigger = styled(AriaButton)`
  display: inline-flex;
  align-items: center;
  gap: 0.4rem;
  min-height: 2.1rem;
  max-width: 100%;
  padding: 0.2rem 0.7rem;
  background: none;
  border: 1.5px solid ${color.rule};
  border-radius: 2px;
  font-weight: 600;
  white-space: nowrap;
  cursor: pointer;
  > span {
    overflow: hidden;
    text-overflow: ellipsis;
  }
  &[data-hovered] {
    border-color: ${color.petrol};
  }
  &[data-focus-visible] {
    outline: 3px solid ${color.petrol};
    outline-offset: 2px;
  }
`;
export const Menu = styled(AriaMenu)`
  min-width: 13rem;
  max-height: 80vh;
  overflow: auto;
  padding: 0.3rem;
  background: ${color.sheet};
  border: 1.5px solid ${color.ink};
  outline: none;
`;
export const Item = styled(MenuItem)`
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
export const Rule = styled(Separator)`
  border-top: 1px solid ${color.rule};
  margin: 0.3rem 0;
`;
export { Popover };

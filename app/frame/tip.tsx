import { useEffect, useId, useMemo } from "react";
import { Tooltip, TooltipTriggerStateContext } from "react-aria-components";
import { useTooltipTriggerState } from "react-stately/useTooltipTriggerState";
import { styled } from "styled-components";
import { color } from "../theme/tokens";

const Says = styled(Tooltip)`
  max-width: 26rem;
  padding: 0.3rem 0.55rem;
  border: 1.5px solid ${color.ink};
  border-radius: 2px;
  background: ${color.paper};
  color: ${color.ink};
  font-size: 0.86rem;
`;

/** What is told about an element, beside it and to a reader. */
export default function Tip({ at, says }: { at: HTMLElement; says: string }) {
  const id = useId();
  const state = useTooltipTriggerState({ isOpen: true });
  const trigger = useMemo(() => ({ current: at }), [at]);
  useEffect(() => {
    const before = at.getAttribute("aria-describedby");
    at.setAttribute("aria-describedby", before ? `${before} ${id}` : id);
    return () => {
      if (before) at.setAttribute("aria-describedby", before);
      else at.removeAttribute("aria-describedby");
    };
  }, [at, id]);
  return (
    <TooltipTriggerStateContext value={state}>
      <Says triggerRef={trigger} offset={6}>
        <span id={id}>{says}</span>
      </Says>
    </TooltipTriggerStateContext>
  );
}

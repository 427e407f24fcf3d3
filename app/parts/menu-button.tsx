import { type ReactNode, Suspense, useRef, useState } from "react";
import { styled } from "styled-components";
import { color } from "../theme/tokens";
import { ifItComes } from "./if-it-comes";
import type { MenuProps } from "./menu";

const load = () => import("./menu-list");
const List = ifItComes(load);

const Press = styled.button`
  display: inline-flex;
  align-items: center;
  gap: 0.4rem;
  min-height: 2.1rem;
  max-width: 100%;
  padding: 0.2rem 0.7rem;
  background: none;
  border: 1.5px solid ${color.rule};
  border-radius: 2px;
  color: inherit;
  font-weight: 600;
  white-space: nowrap;
  cursor: pointer;
  > span {
    overflow: hidden;
    text-overflow: ellipsis;
  }
  &:hover {
    border-color: ${color.petrol};
  }
  &:focus-visible {
    outline: 3px solid ${color.petrol};
    outline-offset: 2px;
  }
`;

/** Where the keys that open it lead to. */
const beginsAt: Readonly<Record<string, "first" | "last">> = {
  Enter: "first",
  " ": "first",
  ArrowDown: "first",
  ArrowUp: "last",
};

/**
 * A button that opens a menu. The list, with all that it takes to place it and to move in it, comes once somebody goes
 * for the button: no page has to wait for it to be seen.
 */
export function MenuButton({
  children,
  className,
  name,
  ...menu
}: MenuProps & {
  children: ReactNode;
  className?: string;
  /** What the button is called, where what stands on it does not say it. */
  name?: string;
}) {
  const press = useRef<HTMLButtonElement>(null);
  const [begins, setBegins] = useState<"first" | "last" | true | null>(null);
  const goFor = () => void load().catch(() => undefined);
  return (
    <>
      <Press
        ref={press}
        type="button"
        className={className}
        aria-label={name}
        aria-haspopup="menu"
        aria-expanded={begins !== null}
        onPointerEnter={goFor}
        onFocus={goFor}
        onClick={({ currentTarget, detail }) => {
          // Not every browser gives the focus to what is clicked, and it comes back here.
          currentTarget.focus();
          setBegins(detail === 0 ? "first" : true);
        }}
        onKeyDown={(event) => {
          const at = beginsAt[event.key];
          if (!at) return;
          // A click of the key's own would be taken for one of assistive software, which moves in the list by itself.
          event.preventDefault();
          setBegins(at);
        }}
      >
        {children}
      </Press>
      {begins !== null && (
        <Suspense>
          <List {...menu} trigger={press} begins={begins} onClose={() => setBegins(null)} />
        </Suspense>
      )}
    </>
  );
}

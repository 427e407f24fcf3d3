import { styled } from "styled-components";
import { color } from "../theme/tokens";

/** A press that does something. `$kind`: the main one of a sheet, a plain one, or one that takes something away. */
export const Button = styled.button<{ $kind?: "main" | "plain" | "danger" | "bare" }>`
  display: inline-flex;
  align-items: center;
  justify-content: center;
  gap: 0.45rem;
  min-height: 2.25rem;
  padding: 0.35rem 0.9rem;
  border: 1.5px solid
    ${({ $kind = "plain" }) => ({ main: "var(--main, var(--ink))", plain: color.ruleStrong, danger: color.madder, bare: "transparent" })[$kind]};
  border-radius: var(--corner, 2px);
  background: ${({ $kind }) => ($kind === "main" ? "var(--main, var(--ink))" : $kind === "bare" ? "transparent" : color.sheet)};
  color: ${({ $kind }) => ($kind === "main" ? "var(--on-main, var(--sheet))" : $kind === "danger" ? color.madder : color.ink)};
  font-weight: 600;
  text-decoration: none;
  cursor: pointer;
  &:hover:not(:disabled) {
    border-color: ${color.petrol};
    ${({ $kind }) => ($kind === "main" ? `background: ${color.petrol}; color: ${color.onFill};` : `color: ${color.petrol};`)}
  }
  &:disabled {
    opacity: 0.55;
    cursor: default;
  }
  svg {
    flex: none;
  }
  ${({ $kind }) => $kind === "bare" && `padding-inline: 0.45rem; margin-left: -0.45rem; text-decoration: underline 1px ${color.ruleStrong}; text-underline-offset: 0.28em;`}
`;

export const labelStyle = "font-weight: 600; font-size: 0.93rem;";
export const hintStyle = "font-weight: 400; font-size: 0.88rem; color: var(--ink-soft);";
export const wrongStyle = "font-weight: 600; font-size: 0.88rem; color: var(--madder);";

export const Field = styled.label`
  display: grid;
  gap: 0.25rem;
  align-content: start;
  ${labelStyle}
`;

export const box = `
  font-weight: 400;
  width: 100%;
  min-height: 2.25rem;
  padding: 0.35rem 0.55rem;
  border: 1.5px solid var(--rule-strong);
  border-radius: 2px;
  background: var(--sheet);
  &[aria-invalid="true"] { border-color: var(--madder); border-width: 2px; }
  &::placeholder { color: var(--ink-soft); opacity: 1; }
`;
export const Input = styled.input`
  ${box}
`;

export const FieldSet = styled.fieldset`
  border: 0;
  padding: 0;
  margin: 0;
  min-width: 0;
  display: grid;
  align-content: start;
  gap: 0.4rem;
  legend {
    padding: 0;
    margin-bottom: 0.25rem;
    font-weight: 600;
    font-size: 0.93rem;
  }
`;

export const Check = styled.label`
  display: inline-flex;
  gap: 0.45rem;
  align-items: center;
  min-height: 1.75rem;
  input {
    width: 1.1rem;
    height: 1.1rem;
    margin: 0;
    accent-color: ${color.petrol};
  }
`;

export const Hint = styled.span`
  ${hintStyle}
`;

const WrongText = styled.span`
  ${wrongStyle}
`;

/** What is wrong, beside its cause. Announced when it appears. */
export function Wrong({ id, children }: { id?: string; children?: React.ReactNode }) {
  return children ? (
    <WrongText id={id} role="alert">
      {children}
    </WrongText>
  ) : null;
}

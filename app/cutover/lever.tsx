import { Lock } from "lucide-react";
import { styled } from "styled-components";
import { color } from "../theme/tokens";
import { t } from "../words/pages/cutover";

const Handle = styled.button`
  display: grid;
  grid-template-columns: auto 1fr;
  align-items: center;
  gap: 0.9rem;
  min-width: 17rem;
  padding: 0.15rem 1.4rem 0.15rem 0.6rem;
  border: 2px solid ${color.ink};
  border-radius: 2px;
  background: ${color.ink};
  color: ${color.sheet};
  font-weight: 700;
  font-size: 1.05rem;
  text-align: left;
  cursor: pointer;
  &:hover:not(:disabled) {
    background: ${color.petrol};
    border-color: ${color.petrol};
    color: ${color.onFill};
  }
  &:disabled {
    background: ${color.sunk};
    color: ${color.inkSoft};
    border-style: dashed;
    border-color: ${color.ruleStrong};
    cursor: not-allowed;
  }
`;

/** The lever of the interlocking: it stands back and is locked until every gate is open. */
export function Lever({ locked, busy, says }: { locked: boolean; busy: boolean; says: string }) {
  return (
    <Handle disabled={locked || busy}>
      <svg width="34" height="40" viewBox="0 0 44 52" aria-hidden="true">
        <path d="M6 46h32" stroke="currentColor" strokeWidth="5" />
        <path d={locked ? "M22 46 10 10" : "M22 46V8"} stroke="currentColor" strokeWidth="4" />
        <circle cx={locked ? 10 : 22} cy={locked ? 9 : 7} r="5.5" fill="currentColor" />
        {locked && <path d="M27 30h12v10H27z" fill={color.madder} />}
      </svg>
      <span>
        {locked && <Lock size={15} aria-hidden />} {busy ? t("moving") : says}
      </span>
    </Handle>
  );
}

import { styled } from "styled-components";
import { color } from "../theme/tokens";

const Mark = styled.span`
  display: inline-flex;
  align-items: center;
  gap: 0.5rem;
  font-weight: 800;
  font-size: 1.2rem;
  letter-spacing: -0.01em;
  color: ${color.ink};
`;

/** The name with its signal: a post on a rail, the arm raised. */
export function Wordmark() {
  return (
    <Mark>
      <svg width="24" height="26" viewBox="0 0 24 26" aria-hidden="true">
        <path d="M1 23.5h22" stroke="currentColor" strokeWidth="2.5" />
        <path d="M7 23V3" stroke="currentColor" strokeWidth="2.5" />
        <path d="M7 7.5 21 3v5L7 12.2z" fill={color.brass} />
      </svg>
      <span className="wide">Zahlung</span>
    </Mark>
  );
}

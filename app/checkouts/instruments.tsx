import { styled } from "styled-components";
import type { Instrument } from "#server/checkouts/view";
import { CopyValue } from "../parts/copy";
import { color } from "../theme/tokens";

const Panel = styled.section`
  border: 2px dashed ${color.ink};
  background: ${color.sheet};
  padding: 0.8rem 1rem;
  font-size: 0.93rem;
`;
const List = styled.ul`
  margin-top: 0.4rem;
  li {
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto;
    align-items: center;
    gap: 0.2rem 0.6rem;
    padding: 0.25rem 0;
    border-top: 1px solid ${color.rule};
  }
  small {
    color: ${color.inkSoft};
    display: block;
  }
`;

/** What a person types for each outcome, copied with one press. Shown in test only. */
export function Instruments({ instruments, says }: { instruments: readonly Instrument[]; says: string }) {
  const [first] = instruments;
  const rest = first?.type.slice(1) ?? [];
  return (
    <Panel aria-label={says}>
      <p>{says}</p>
      <List>
        {instruments.map((one) => (
          <li key={one.label}>
            <span>
              {one.outcome}
              <small>{one.label}</small>
            </span>
            {one.type[0] && <CopyValue value={one.type[0].value} />}
          </li>
        ))}
        {rest.map((one) => (
          <li key={one.label}>
            <span>{one.label}</span>
            <CopyValue value={one.value} />
          </li>
        ))}
      </List>
    </Panel>
  );
}

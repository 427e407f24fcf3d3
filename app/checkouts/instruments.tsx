import { styled } from "styled-components";
import type { Instrument } from "#server/checkouts/view";
import { CopyValue } from "../parts/copy";
import { Button } from "../parts/form";
import { color } from "../theme/tokens";
import type { CheckoutWords } from "./words";

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
  /* In large letters a number goes on in the next line: cut, it could not be read out. */
  button > span {
    white-space: normal;
    overflow-wrap: anywhere;
  }
  small {
    color: ${color.inkSoft};
    display: block;
  }
`;

/** What is filled into the provider's frame, by the names it knows it by. */
export type Fill = Readonly<Record<string, string>>;

const fillOf = ({ type }: Instrument): Fill | null => {
  const named = type.flatMap(({ name, value }) => (name ? [[name, value] as const] : []));
  return named.length > 0 ? Object.fromEntries(named) : null;
};

/** A word of ours for something the profile names by a key of ours; else as the profile has it. */
const wordOf = (words: Readonly<Record<string, string>>, key: string | undefined, otherwise: string) =>
  (key !== undefined && Object.hasOwn(words, key) ? words[key] : undefined) ?? otherwise;

/**
 * What a person types for each outcome, copied with one press, or filled into the provider's form where that takes it.
 * Shown in test only.
 */
export function Instruments({
  instruments,
  words,
  says,
  onFill,
}: {
  instruments: readonly Instrument[];
  words: CheckoutWords;
  says: string;
  onFill: ((fill: Fill) => void) | null;
}) {
  const [first] = instruments;
  const rest = first?.type.slice(1) ?? [];
  return (
    <Panel aria-label={says}>
      <p>{says}</p>
      <List>
        {instruments.map((one) => {
          const fill = onFill && fillOf(one);
          // One more that is good, of another network.
          const what = one.case.startsWith("approved-") ? "approved" : one.case;
          const outcome = wordOf(words.outcomes, what, one.outcome);
          const number = one.type[0] && <CopyValue value={one.type[0].value} />;
          return (
            <li key={one.label}>
              <span>
                {outcome}
                <small>{one.label}</small>
                {fill && number}
              </span>
              {!fill && number}
              {fill && (
                <Button type="button" onClick={() => onFill(fill)} aria-label={`${words.fill}: ${one.label}`}>
                  {words.fill}
                </Button>
              )}
            </li>
          );
        })}
        {rest.map((one) => (
          <li key={one.label}>
            <span>{wordOf(words.entries, one.name, one.label)}</span>
            <CopyValue value={one.value} />
          </li>
        ))}
      </List>
    </Panel>
  );
}

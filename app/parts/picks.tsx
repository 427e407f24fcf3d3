import type { ReactNode } from "react";
import { styled } from "styled-components";
import { color } from "../theme/tokens";
import { Radio, Radios } from "./radios";

const All = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 0.35rem;
  label {
    position: relative;
    display: inline-flex;
    align-items: center;
    justify-content: center;
    min-height: 2.25rem;
    min-width: 2.75rem;
    padding: 0.2rem 0.55rem;
    border: 1.5px solid ${color.rule};
    border-radius: 2px;
    font-size: 0.93rem;
    cursor: pointer;
  }
  label:has(:checked) {
    border-color: ${color.petrol};
    background: ${color.petrolSoft};
  }
  label:has(:focus-visible) {
    outline: 3px solid ${color.petrol};
    outline-offset: 2px;
  }
  input {
    position: absolute;
    inset: 0;
    opacity: 0;
    margin: 0;
    width: 100%;
    height: 100%;
    cursor: pointer;
  }
`;

export interface Pick {
  id: string;
  says: ReactNode;
  /** What it is called where it is only drawn. */
  name?: string;
}

/** One of a few things that are seen rather than read, as radio buttons in a row. */
export function Picks({
  label,
  picks,
  chosen,
  onPick,
}: {
  label: string;
  picks: readonly Pick[];
  chosen: string;
  onPick: (id: string) => void;
}) {
  return (
    <Radios as={All} label={label} value={chosen} onChange={onPick}>
      {picks.map((one) => (
        <Radio key={one.id} as="label" value={one.id} label={one.name}>
          {one.says}
        </Radio>
      ))}
    </Radios>
  );
}

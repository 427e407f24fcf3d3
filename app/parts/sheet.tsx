import { styled } from "styled-components";
import { color, mono, tabular } from "../theme/tokens";

/** The ground that a task is laid out on. */
export const Sheet = styled.section`
  background: ${color.sheet};
  border: 1px solid ${color.rule};
  border-top: 3px solid ${color.ink};
  padding: 1.1rem 1.3rem 1.3rem;
  min-width: 0;
`;

export const Stack = styled.div<{ $gap?: number }>`
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  justify-items: start;
  > * {
    min-width: 0;
  }
  > :is(section, form, table, ul, ol, dl, div, header, fieldset, label, nav) {
    justify-self: stretch;
  }
  gap: ${({ $gap = 1 }) => $gap}rem;
  align-content: start;
  min-width: 0;
`;

export const Row = styled.div<{ $gap?: number; $align?: "start" | "center" | "end" }>`
  display: flex;
  flex-wrap: wrap;
  align-items: ${({ $align = "center" }) => $align};
  gap: ${({ $gap = 0.6 }) => $gap}rem;
  min-width: 0;
`;

export const Soft = styled.span`
  color: ${color.inkSoft};
`;

export const Small = styled.p`
  color: ${color.inkSoft};
  font-size: 0.9rem;
`;

export const Mono = styled.code`
  font-family: ${mono};
  font-size: 0.88em;
  overflow-wrap: anywhere;
`;

export const Table = styled.table`
  width: 100%;
  font-size: 0.95rem;
  th {
    text-align: left;
    font-size: 0.86rem;
    color: ${color.inkSoft};
    font-weight: 600;
    padding: 0.35rem 0.7rem 0.35rem 0;
    border-bottom: 1.5px solid ${color.ink};
    white-space: nowrap;
  }
  td {
    padding: 0.45rem 0.7rem 0.45rem 0;
    border-bottom: 1px solid ${color.rule};
    vertical-align: top;
  }
  th[scope="row"] {
    border-bottom: 1px solid ${color.rule};
    white-space: normal;
  }
  tr > :last-child {
    padding-right: 0;
  }
  time,
  .whole {
    white-space: nowrap;
  }
  .amount {
    text-align: right;
    white-space: nowrap;
    ${tabular}
  }
`;

export const PageHead = styled.header`
  display: flex;
  flex-wrap: wrap;
  gap: 0.6rem 1.5rem;
  align-items: start;
  justify-content: space-between;
  margin-bottom: 1rem;
  p {
    color: ${color.inkSoft};
    max-width: 46rem;
  }
`;

/** Fields beside each other, as many as there is room for. */
export const Pairs = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr));
  gap: 0.7rem 1rem;
  align-items: start;
`;

import { styled } from "styled-components";
import { Wordmark } from "./wordmark";

const Narrow = styled.main`
  max-width: 27rem;
  margin: 11vh auto 3rem;
  padding: 0 1rem;
  display: grid;
  gap: 1.2rem;
`;

/** A page before anybody is signed in: the mark above one small sheet. */
export function DoorPage({ children }: { children: React.ReactNode }) {
  return (
    <Narrow>
      <Wordmark />
      {children}
    </Narrow>
  );
}

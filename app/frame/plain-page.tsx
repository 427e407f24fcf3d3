import { Link } from "react-router";
import { styled } from "styled-components";
import { Wordmark } from "./wordmark";

const Page = styled.main`
  max-width: 84rem;
  margin: 0 auto;
  padding: 1rem 1.5rem 4rem;
  display: grid;
  gap: 1rem;
  > a {
    text-decoration: none;
    justify-self: start;
  }
`;

/** A page that belongs to no storefront: the mark leads home. */
export function PlainPage({ children }: { children: React.ReactNode }) {
  return (
    <Page>
      <Link to="/" aria-label="Zahlung, home">
        <Wordmark />
      </Link>
      {children}
    </Page>
  );
}

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

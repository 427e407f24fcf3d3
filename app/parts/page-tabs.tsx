import { Link } from "react-router";
import { styled } from "styled-components";
import { color } from "../theme/tokens";

const Nav = styled.nav`
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem 1.1rem;
  margin-bottom: 0.7rem;
  a {
    padding: 0.15rem 0;
  }
  a[aria-current] {
    color: ${color.ink};
    font-weight: 700;
    text-decoration: none;
    border-bottom: 3px solid ${color.ink};
  }
  @media print {
    display: none;
  }
`;

/** Pages that belong together, with the one looked at marked; `here` is its address. */
export function PageTabs({
  label,
  here,
  pages,
}: {
  label: string;
  here: string;
  pages: readonly { to: string; words: string }[];
}) {
  return (
    <Nav aria-label={label}>
      {pages.map(({ to, words }) => (
        <Link key={to} to={to} aria-current={to === here ? "page" : undefined}>
          {words}
        </Link>
      ))}
    </Nav>
  );
}

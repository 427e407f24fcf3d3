import { styled } from "styled-components";
import { useReturn } from "../parts/reach";
import { color } from "../theme/tokens";

const Page = styled.main`
  max-width: 34rem;
  margin: 14vh auto;
  padding: 0 1.25rem;
  display: grid;
  gap: 0.8rem;
`;
const Status = styled.p`
  font-family: var(--mono);
  color: ${color.inkSoft};
`;

const titles: Record<number, string> = {
  403: "This is not yours to do",
  404: "Nothing stands here",
  500: "Something broke",
};

/** A page that says what went wrong and leads back. */
export function Trouble({ status, says }: { status: number; says: string }) {
  return (
    <Page>
      <Status>{status}</Status>
      <h1>{titles[status] ?? "That did not work"}</h1>
      <p>{says}</p>
      <p>
        <a href="/">To the start</a>
      </p>
    </Page>
  );
}

/** Shown when a request never arrived: nothing is said about what was changed, since nobody here knows. */
export function OutOfReach() {
  useReturn(true);
  return (
    <Page>
      <h1>Zahlung could not be reached</h1>
      <p>
        The connection was lost, or Zahlung is being restarted; this page comes back by itself. Edits of an
        offer are kept in this browser; whether your last press arrived is seen when the page is back.
      </p>
      <p>
        <a href="">Try again now</a>
      </p>
    </Page>
  );
}

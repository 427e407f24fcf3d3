import { styled } from "styled-components";
import { useReturn } from "../parts/reach";
import { color } from "../theme/tokens";
import { t } from "../words/pages/everywhere";

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
  403: t("this-is-not-yours-to"),
  404: t("nothing-stands-here"),
  500: t("something-broke"),
};

/** A page that says what went wrong and leads back. */
export function Trouble({ status, says }: { status: number; says: string }) {
  return (
    <Page>
      <Status>{status}</Status>
      <h1>{titles[status] ?? t("that-did-not-work")}</h1>
      <p>{says}</p>
      <p>
        <a href="/">{t("to-the-start")}</a>
      </p>
    </Page>
  );
}

/** Shown when a request never arrived: nothing is said about what was changed, since nobody here knows. */
export function OutOfReach() {
  useReturn(true);
  return (
    <Page>
      <h1>{t("zahlung-could-not-be-reached")}</h1>
      <p>{t("the-connection-was-lost-or")}</p>
      <p>
        <a href="">{t("try-again-now")}</a>
      </p>
    </Page>
  );
}

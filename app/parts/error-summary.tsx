import { useEffect, useRef } from "react";
import { styled } from "styled-components";
import { color } from "../theme/tokens";
import { t } from "../words/pages/parts";

const Box = styled.div`
  padding: 0.5rem 0.8rem;
  border-left: 4px solid ${color.madder};
  background: ${color.madderSoft};
  outline: none;
  ul {
    margin-top: 0.2rem;
  }
  /* Each can be pressed without its neighbours. */
  li a {
    display: inline-block;
    padding-block: 0.15rem;
  }
`;

/** The id of the box that a path belongs to, so that a complaint leads there. */
export const fieldId = (path: string): string => `field-${path.replace(/[^\w-]/g, "-")}`;

/** Why nothing was saved, each complaint leading to its field. It takes the focus when it appears. */
export function ErrorSummary({ problems }: { problems: readonly { path: string; says: string }[] }) {
  const box = useRef<HTMLDivElement>(null);
  const said = problems.map((one) => one.says).join("\n");
  useEffect(() => {
    if (said) box.current?.focus();
  }, [said]);
  if (problems.length === 0) return null;
  const lead = (event: React.MouseEvent, path: string) => {
    // The field itself, or the nearest that holds it.
    for (let at = path; at; at = at.split(".").slice(0, -1).join(".")) {
      const field = document.getElementById(fieldId(at));
      if (!field) continue;
      event.preventDefault();
      field.scrollIntoView({ block: "center" });
      field.focus();
      return;
    }
  };
  return (
    <Box ref={box} tabIndex={-1} role="alert">
      <strong>{t("not-saved")}</strong>
      <ul>
        {problems.map((one) => (
          <li key={one.path + one.says}>
            <a href={`#${fieldId(one.path)}`} onClick={(event) => lead(event, one.path)}>
              {one.says}
            </a>
          </li>
        ))}
      </ul>
    </Box>
  );
}

import { Link, useLocation } from "react-router";
import { styled } from "styled-components";
import { color, hatch } from "../theme/tokens";
import { ModePlate } from "../parts/marks";
import type { Looking } from "./looking";
import { t } from "../words/pages/frame";

const Switch = styled.div`
  display: inline-flex;
  a {
    border: 1.5px solid ${color.ink};
    padding: 0.15rem 0.75rem;
    color: ${color.ink};
    font-weight: 600;
    text-decoration: none;
  }
  a + a {
    margin-left: -1.5px;
  }
  a.test {
    border-style: dashed;
  }
  a.test[aria-current] {
    background: ${hatch};
  }
  a:not([aria-current]) {
    color: ${color.inkSoft};
    border-color: ${color.ruleStrong};
  }
  a.live[aria-current],
  a.both[aria-current] {
    background: ${color.ink};
    color: ${color.sheet};
  }
`;

const words = { test: t("test"), live: t("live"), both: t("both") };

/** Whether test or live data is looked at, and the press that looks at the other. It keeps the filter, not the page. */
export function ModeSwitch({ looking }: { looking: Looking }) {
  const { pathname, search } = useLocation();
  if (looking.may.length < 2) return looking.mode === "both" ? null : <ModePlate mode={looking.mode} />;
  const to = (mode: string) => {
    const next = new URLSearchParams(search);
    next.set("mode", mode);
    next.delete("after");
    return `${pathname}?${next.toString()}`;
  };
  return (
    <Switch role="group" aria-label={t("mode-of-what-is-shown")}>
      {looking.may.map((mode) => (
        <Link
          key={mode}
          className={mode}
          to={to(mode)}
          aria-current={mode === looking.mode ? "true" : undefined}
        >
          {words[mode]}
        </Link>
      ))}
    </Switch>
  );
}

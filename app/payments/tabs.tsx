import { Link, NavLink } from "react-router";
import { styled } from "styled-components";
import type { Mode } from "#core/mode";
import { color, hatch } from "../theme/tokens";

const Bar = styled.nav`
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem 1.4rem;
  align-items: center;
  a {
    font-weight: 600;
    padding: 0.2rem 0;
    color: ${color.ink};
    text-decoration: none;
    border-bottom: 3px solid transparent;
  }
  a[aria-current="page"] {
    border-color: ${color.petrol};
    color: ${color.petrol};
  }
`;
const Switch = styled.div`
  display: inline-flex;
  margin-left: auto;
  a {
    border: 1.5px solid ${color.ink};
    padding: 0.2rem 0.9rem;
  }
  a.test {
    border-style: dashed;
  }
  a[aria-current="true"] {
    color: ${color.ink};
    border-color: ${color.ink};
  }
  a.test[aria-current="true"] {
    background: ${hatch};
  }
  a.live[aria-current="true"] {
    background: ${color.ink};
    color: ${color.sheet};
  }
`;

/** Payments or webhooks, of test or of live: the mode of what is looked at is part of the address. */
export function OperateTabs({
  storefrontId,
  mode,
  at,
}: {
  storefrontId: string;
  mode: Mode;
  at: "" | "/webhooks";
}) {
  const base = `/s/${storefrontId}/operate`;
  return (
    <Bar aria-label="Operate">
      <NavLink end to={`${base}?mode=${mode}`}>
        Payments
      </NavLink>
      <NavLink to={`${base}/webhooks?mode=${mode}`}>Webhooks received</NavLink>
      <Link to={`/s/${storefrontId}/exchanges?mode=${mode}`}>What was said</Link>
      <Switch role="group" aria-label="Mode of what is shown">
        {(["test", "live"] as const).map((one) => (
          <Link
            key={one}
            className={one}
            to={`${base}${at}?mode=${one}`}
            aria-current={one === mode ? "true" : undefined}
          >
            {one === "test" ? "Test" : "Live"}
          </Link>
        ))}
      </Switch>
    </Bar>
  );
}

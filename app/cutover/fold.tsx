import { ChevronDown, ChevronRight } from "lucide-react";
import { Link } from "react-router";
import { styled } from "styled-components";
import { type Meaning, Says } from "../parts/marks";
import { color } from "../theme/tokens";
import type { ConnectionView } from "./connection-view";
import { t } from "../words/pages/cutover";

export const Rows = styled.ul`
  background: ${color.sheet};
  border: 1px solid ${color.rule};
  border-top: 3px solid ${color.ink};
  > li {
    border-bottom: 1px solid ${color.rule};
  }
`;
export const Head = styled.div`
  display: grid;
  grid-template-columns: 1.2rem minmax(8rem, 13rem) 9rem minmax(0, 1fr);
  gap: 0.3rem 0.9rem;
  align-items: center;
  min-height: 2.3rem;
  padding: 0.2rem 1.1rem;
  :is(h2, h3) {
    font-size: 1rem;
  }
  a {
    color: ${color.ink};
    text-decoration: none;
  }
  a:hover {
    text-decoration: underline;
  }
  svg {
    color: ${color.inkSoft};
  }
  @media (max-width: 48rem) {
    grid-template-columns: 1.2rem minmax(0, 1fr) auto;
    > :last-child {
      grid-column: 2 / -1;
    }
  }
`;
/** What there is to say of a connection in one line. */
function summaryOf(one: ConnectionView): { meaning: Meaning; says: string } {
  const closed = one.gates.filter((gate) => !gate.open);
  const first = closed[0];
  if (one.live === "live" && !one.pending)
    return first
      ? { meaning: "wrong", says: t("title-no-longer-says", { title: first.title, says: first.says }) }
      : { meaning: "proven", says: t("live-runs-what-is-set") };
  if (!one.pending) return { meaning: "none", says: t("nothing-is-offered-that-could") };
  const changes = one.changes.length + (one.version ? 1 : 0);
  const what = one.live === "live" ? t("changes-wait", { changes }) : t("ready");
  if (first)
    return {
      meaning: "waits",
      says: t("closed-of-gates-gates-closed", {
        closed: closed.length,
        gates: one.gates.length,
        title: first.title,
        says: first.says,
      }),
    };
  return { meaning: "waits", says: t("what-every-gate-is-open", { what }) };
}

/** One connection in one line, which opens and folds it. */
export function Fold({ one, open }: { one: ConnectionView; open: boolean }) {
  const { meaning, says } = summaryOf(one);
  return (
    <Head>
      {open ? <ChevronDown size={16} aria-hidden /> : <ChevronRight size={16} aria-hidden />}
      <h2>
        <Link to={open ? "?of=none" : `?of=${one.id}`} aria-expanded={open} preventScrollReset>
          {one.name}
        </Link>
      </h2>
      <Stands live={one.live} />
      <Says meaning={meaning}>{says}</Says>
    </Head>
  );
}

export function Stands({ live }: { live: ConnectionView["live"] }) {
  if (live === "live") return <Says meaning="proven">{t("live")}</Says>;
  if (live === "fallen-back") return <Says meaning="waits">{t("fallen-back-to-test")}</Says>;
  return <Says meaning="none">{t("test-only")}</Says>;
}

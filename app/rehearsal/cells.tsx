import { Link } from "react-router";
import { styled } from "styled-components";
import type { CaseId } from "#core/rehearsal/cases";
import type { BoardCell } from "#server/rehearsal/board";
import { Button, Wrong } from "../parts/form";
import { type Meaning, Mark, Says } from "../parts/marks";
import { Small } from "../parts/sheet";
import { When } from "../parts/when";
import { color } from "../theme/tokens";

const Grid = styled.ul`
  border-top: 1.5px solid ${color.ink};
  > li {
    display: grid;
    grid-template-columns: minmax(11rem, 15rem) minmax(0, 1fr) minmax(0, 1.3fr) auto;
    gap: 0.2rem 1.2rem;
    align-items: baseline;
    padding: 0.45rem 0;
    border-bottom: 1px solid ${color.rule};
  }
  @media (max-width: 55rem) {
    > li {
      grid-template-columns: minmax(0, 1fr) auto;
    }
  }
`;
const Title = styled.span`
  font-weight: 600;
  display: inline-flex;
  gap: 0.55rem;
  align-items: baseline;
`;

function meaningOf(cell: BoardCell): Meaning {
  if (!cell.proof) return "none";
  if (cell.proof.state === "running") return "running";
  if (cell.proof.state !== "passed") return "wrong";
  return cell.proof.changed.length ? "waits" : "proven";
}

/** Cases as rows: what each is about, its newest proof, and the press that runs it. */
export function Cells({
  cells,
  storefrontId,
  busy,
  run,
}: {
  cells: readonly BoardCell[];
  storefrontId: string;
  busy: boolean;
  run: (cases: CaseId[]) => void;
}) {
  return (
    <Grid>
      {cells.map((cell) => (
        <li key={cell.caseId}>
          <Title>
            <Mark meaning={meaningOf(cell)} />
            {cell.proof && cell.proof.state !== "running" ? (
              <Link to={`/s/${storefrontId}/rehearse/${cell.proof.id}`}>{cell.title}</Link>
            ) : (
              cell.title
            )}
          </Title>
          <Small>
            {cell.about} {cell.because}
          </Small>
          <span>
            <Result cell={cell} />
          </span>
          <Button
            type="button"
            $kind="bare"
            disabled={busy}
            onClick={() => run([cell.caseId])}
            aria-label={`Run ${cell.title}`}
          >
            Run
          </Button>
        </li>
      ))}
    </Grid>
  );
}

function Result({ cell }: { cell: BoardCell }) {
  const { proof } = cell;
  if (!proof) return <Small>Not run yet.</Small>;
  if (proof.state === "running") return <Small>Running…</Small>;
  if (proof.state === "failed") {
    const first = proof.verdicts.find((one) => !one.ok);
    return (
      <Wrong>
        {proof.error ??
          (first ? `${first.what}: expected ${first.expected}, was ${first.happened}.` : "Failed.")}
      </Wrong>
    );
  }
  if (proof.changed.length)
    return <Says meaning="waits">stale: {proof.changed.join(", ")} changed since</Says>;
  return (
    <Small>
      {proof.how === "walked"
        ? "Walked by a person"
        : `Passed in ${((proof.duration ?? 0) / 1000).toFixed(1)} s`}
      , <When at={proof.at} />
    </Small>
  );
}

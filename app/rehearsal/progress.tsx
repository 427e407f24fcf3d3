import { Square } from "lucide-react";
import { styled } from "styled-components";
import { Button } from "../parts/form";
import { color, hatch } from "../theme/tokens";
import type { BoardColumn } from "./cell";
import { t } from "../words/pages/rehearsal";

const Bar = styled.div`
  height: 0.7rem;
  border: 1.5px dashed ${color.ink};
  background: ${hatch};
  flex: 1 1 10rem;
  max-width: 20rem;
  svg {
    display: block;
    width: 100%;
    height: 100%;
  }
`;

/** How far the runs have come, all together, and the press that stops them. */
export function Progress({ running, onStop }: { running: readonly BoardColumn[]; onStop: () => void }) {
  const sum = (pick: (one: NonNullable<BoardColumn["running"]>) => number) =>
    running.reduce((total, one) => total + (one.running ? pick(one.running) : 0), 0);
  const [done, total] = [sum((one) => one.done), sum((one) => one.total)];
  const stopping = running.every((one) => one.running?.stopping);
  return (
    <>
      <Bar
        role="progressbar"
        aria-label={t("rehearsal")}
        aria-valuenow={done}
        aria-valuemin={0}
        aria-valuemax={total}
      >
        <svg viewBox="0 0 100 1" preserveAspectRatio="none">
          <rect width={(100 * done) / Math.max(1, total)} height="1" fill={color.ink} />
        </svg>
      </Bar>
      <span role="status">{t("done-of-total", { done, total })}</span>
      <Button type="button" disabled={stopping} onClick={onStop}>
        <Square size={14} aria-hidden /> {t("stop", { hasStopping: stopping ? "yes" : "no" })}
      </Button>
    </>
  );
}

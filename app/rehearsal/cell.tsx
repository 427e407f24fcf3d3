import { styled } from "styled-components";
import type { CaseId } from "#core/rehearsal/cases";
import type { BoardCell as SaidBoardCell } from "#server/rehearsal/board";
import { Mark, type Meaning } from "../parts/marks";
import { ageText } from "../parts/when";
import { color } from "../theme/tokens";
import type { Spoken } from "../words/speak";
import { t } from "../words/pages/rehearsal";

type BoardCell = Spoken<SaidBoardCell>;

/** A cell of the board; what its case is about stands once, with its row. */
export type CellView = Omit<BoardCell, "title" | "about">;

/** An offer with its cells. */
export interface BoardColumn {
  id: string;
  name: string;
  account: string;
  running: { id: string; done: number; total: number; stopping: boolean } | null;
  cells: Partial<Record<CaseId, CellView>>;
  required: number;
  green: number;
}

const Press = styled.button<{ $required: boolean; $open: boolean }>`
  display: flex;
  align-items: center;
  gap: 0.4rem;
  width: 100%;
  height: var(--row);
  padding: 0 0.45rem;
  border: 1px solid ${({ $required }) => ($required ? color.ruleStrong : "transparent")};
  background: ${({ $open }) => ($open ? color.petrolSoft : "none")};
  font-size: 0.82rem;
  color: ${color.inkSoft};
  white-space: nowrap;
  cursor: pointer;
  &:hover {
    border-color: ${color.petrol};
  }
`;
const Dot = styled.i`
  width: 4px;
  height: 4px;
  margin: 0 5px;
  background: ${color.ruleStrong};
`;

export const isGreen = (cell: CellView | undefined): boolean =>
  cell?.proof?.state === "passed" && cell.proof.changed.length === 0;

export function meaningOf(cell: CellView | undefined): Meaning {
  if (!cell?.proof) return "none";
  if (cell.proof.state === "running") return "running";
  if (cell.proof.state !== "passed") return "wrong";
  return cell.proof.changed.length ? "waits" : "proven";
}

const words: Record<Meaning, string> = {
  none: t("not-run"),
  running: t("running"),
  wrong: t("failed"),
  waits: t("stale"),
  proven: t("passed"),
};

/** One mark with its age: outlined where the offer needs the case, a dot where it does not. */
export function Cell({
  at,
  first,
  offer,
  caseId,
  title,
  open,
  onOpen,
}: {
  at: string;
  /** The one that the tab key leads to; from it the arrows go on. */
  first: boolean;
  offer: BoardColumn;
  caseId: CaseId;
  title: string;
  open: boolean;
  onOpen: () => void;
}) {
  const cell = offer.cells[caseId];
  const required = cell?.required ?? false;
  const meaning = meaningOf(cell);
  const age = cell?.proof && meaning !== "running" ? ageText(cell.proof.at) : "";
  const says = required ? words[meaning] : t("not-needed");
  return (
    <Press
      type="button"
      data-at={at}
      tabIndex={first || open ? 0 : -1}
      $required={required}
      $open={open}
      aria-expanded={open}
      aria-label={`${title}, ${offer.name}: ${says}${required && age ? t("age-ago", { age }) : ""}`}
      onClick={onOpen}
    >
      {required ? (
        <>
          <Mark meaning={meaning} size={13} />
          <span suppressHydrationWarning>{meaning === "running" ? "…" : age}</span>
        </>
      ) : (
        <Dot />
      )}
    </Press>
  );
}

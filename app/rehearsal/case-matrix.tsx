import { Play } from "lucide-react";
import { useRef } from "react";
import { styled } from "styled-components";
import type { CaseId } from "#core/rehearsal/cases";
import { color } from "../theme/tokens";
import { type BoardColumn, Cell } from "./cell";
import { t } from "../words/pages/rehearsal";

const Scroller = styled.div`
  overflow-x: auto;
`;
const Matrix = styled.table<{ $dense: boolean }>`
  --row: ${({ $dense }) => ($dense ? "1.2rem" : "1.5rem")};
  font-size: 0.92rem;
  th {
    font-weight: 400;
    text-align: left;
    padding: 0;
  }
  thead th {
    vertical-align: bottom;
    padding: 0 0.25rem 0.3rem;
    min-width: 5.4rem;
    max-width: 8.5rem;
  }
  thead th:first-child {
    min-width: 13rem;
  }
  tbody tr:first-child th {
    padding-top: 0.25rem;
    line-height: 1.2;
    font-size: 0.8rem;
    font-weight: 700;
    color: ${color.inkSoft};
    border-bottom: 1px solid ${color.ruleStrong};
  }
  tbody th[scope="row"] {
    position: sticky;
    left: 0;
    background: ${color.sheet};
    white-space: nowrap;
    padding-right: 0.6rem;
    border-bottom: 1px solid ${color.rule};
  }
  tbody td {
    border-bottom: 1px solid ${color.rule};
    padding: 0 0.15rem;
  }
`;
const ColumnHead = styled.div`
  display: grid;
  gap: 0.1rem;
  line-height: 1.2;
  strong,
  small {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  small {
    color: ${color.inkSoft};
    font-size: 0.8rem;
  }
`;
const Tiny = styled.button`
  display: inline-flex;
  align-items: center;
  gap: 0.3rem;
  min-height: 1.5rem;
  padding: 0 0.25rem;
  border: 1px solid transparent;
  background: none;
  color: ${color.petrol};
  font-size: 0.84rem;
  cursor: pointer;
  &:hover:not(:disabled) {
    border-color: ${color.petrol};
  }
  &:disabled {
    color: ${color.inkSoft};
    cursor: default;
  }
`;
const arrows: Record<string, [number, number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
};

/** Cases of one offer that are to run. */
export interface RunWish {
  offer: BoardColumn;
  cases: readonly CaseId[];
}

interface CaseRow {
  id: CaseId;
  title: string;
  about: string;
}

export interface CaseGroupView {
  title: string;
  cases: readonly CaseRow[];
}

/** The cases that an offer needs before live, in the order of the board. */
export const requiredOf = (
  rows: readonly CaseRow[],
  offer: BoardColumn,
  only: (id: CaseId) => boolean = () => true,
): CaseId[] => rows.map((one) => one.id).filter((id) => offer.cells[id]?.required && only(id));

/** Cases are rows in groups, offers are columns; a row, a column or a cell runs alone, and the arrows move between cells. */
export function CaseMatrix({
  columns,
  groups,
  opened,
  onOpen,
  onRun,
}: {
  columns: readonly BoardColumn[];
  groups: readonly CaseGroupView[];
  /** The cell whose proof is open, as `offer.case`. */
  opened: string | null;
  onOpen: (cell: string) => void;
  onRun: (wishes: readonly RunWish[]) => void;
}) {
  const body = useRef<HTMLTableElement>(null);
  const rows = groups.flatMap((group) => group.cases);
  const idle = columns.filter((one) => one.running === null);
  const onKeyDown = (event: React.KeyboardEvent) => {
    const step = arrows[event.key];
    const at = (event.target as HTMLElement).dataset.at?.split(" ").map(Number);
    if (!step || !at) return;
    event.preventDefault();
    const [row = 0, column = 0] = at;
    body.current?.querySelector<HTMLElement>(`[data-at="${row + step[0]} ${column + step[1]}"]`)?.focus();
  };
  return (
    <Scroller tabIndex={0} role="region" aria-label={t("cases-by-offer")}>
      <Matrix ref={body} $dense={rows.length > 20} aria-label={t("cases-by-offer")} onKeyDown={onKeyDown}>
        <thead>
          <tr>
            <th scope="col">
              <span className="quiet">{t("case")}</span>
            </th>
            {columns.map((one) => (
              <th scope="col" key={one.id}>
                <ColumnHead>
                  <strong title={one.name}>{one.name}</strong>
                  <small title={one.account}>{one.account}</small>
                  <Tiny
                    type="button"
                    disabled={one.running !== null}
                    onClick={() => onRun([{ offer: one, cases: requiredOf(rows, one) }])}
                    aria-label={t("run-name-of-account", { name: one.name, account: one.account })}
                  >
                    <Play size={11} aria-hidden />{" "}
                    {t("green-of-required", { green: one.green, required: one.required })}
                  </Tiny>
                </ColumnHead>
              </th>
            ))}
          </tr>
        </thead>
        {groups.map((group, g) => (
          <tbody key={group.title}>
            <tr>
              <th colSpan={columns.length + 1} scope="colgroup">
                {group.title}
              </th>
            </tr>
            {group.cases.map((one, i) => {
              const row = groups.slice(0, g).reduce((n, each) => n + each.cases.length, i);
              const who = idle.filter((offer) => offer.cells[one.id]?.required);
              return (
                <tr key={one.id}>
                  <th scope="row" title={one.about}>
                    <Tiny
                      type="button"
                      disabled={who.length === 0}
                      onClick={() => onRun(who.map((offer) => ({ offer, cases: [one.id] })))}
                      aria-label={t("run-title-on-every-offer", { title: one.title })}
                    >
                      <Play size={11} aria-hidden />
                    </Tiny>{" "}
                    {one.title}
                  </th>
                  {columns.map((offer, column) => (
                    <td key={offer.id}>
                      <Cell
                        at={`${row} ${column}`}
                        first={row === 0 && column === 0}
                        offer={offer}
                        caseId={one.id}
                        title={one.title}
                        open={opened === `${offer.id}.${one.id}`}
                        onOpen={() => onOpen(`${offer.id}.${one.id}`)}
                      />
                    </td>
                  ))}
                </tr>
              );
            })}
          </tbody>
        ))}
      </Matrix>
    </Scroller>
  );
}

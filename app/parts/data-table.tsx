import { ArrowDown, ArrowUp, Columns3, Download } from "lucide-react";
import { useRef } from "react";
import { Link, useLocation, useNavigate } from "react-router";
import { styled } from "styled-components";
import { color, tabular } from "../theme/tokens";
import { MenuButton } from "./menu-button";
import { Row } from "./sheet";
import { t } from "../words/pages/parts";

/** A column of a table. */
export interface Column<R> {
  id: string;
  head: string;
  cell: (row: R) => React.ReactNode;
  /** Amounts and counts stand at the right, in figures of one width, and stay in sight on a narrow screen. */
  amount?: boolean;
  /** What the address calls its order; a minus in front means downwards. */
  sort?: string;
  /** Cannot be hidden. */
  always?: boolean;
  /** Hidden until it is chosen. */
  extra?: boolean;
  /** Left out on a narrow screen. */
  wide?: boolean;
  /** Holds sentences: they run over as many lines as they need. */
  prose?: boolean;
}

const Scroller = styled.div`
  overflow-x: auto;
  position: relative;
`;
const Grid = styled.table`
  width: 100%;
  font-size: 0.95rem;
  th {
    text-align: left;
    font-size: 0.86rem;
    color: ${color.inkSoft};
    font-weight: 600;
    padding: 0.3rem 0.8rem 0.3rem 0;
    border-bottom: 1.5px solid ${color.ink};
    white-space: nowrap;
    a {
      color: inherit;
      text-decoration: none;
      display: inline-flex;
      gap: 0.25rem;
      align-items: center;
    }
    a:hover {
      color: ${color.petrol};
      text-decoration: underline;
    }
  }
  td {
    padding: 0.4rem 0.8rem 0.4rem 0;
    border-bottom: 1px solid ${color.rule};
    vertical-align: top;
    max-width: 26rem;
  }
  .opened {
    max-width: none;
    padding: 0.5rem 0.2rem 1rem 0.9rem;
    border-left: 4px solid ${color.petrol};
  }
  td:first-child {
    white-space: nowrap;
  }
  td.prose {
    white-space: normal;
    max-width: 40rem;
  }
  tbody tr[data-opens] {
    cursor: pointer;
  }
  tbody tr[data-opens]:hover td {
    background: ${color.petrolSoft};
  }
  tr > :last-child {
    padding-right: 0.2rem;
  }
  time {
    white-space: nowrap;
  }
  .amount {
    text-align: right;
    white-space: nowrap;
    ${tabular}
  }
  @media (max-width: 48rem) {
    .wide {
      display: none;
    }
    /* Whatever scrolls, the amount stays in sight: the last one, where there are several. */
    .amount:not(:has(~ .amount:not(.wide))) {
      position: sticky;
      right: 0;
      background: ${color.sheet};
      padding-left: 0.5rem;
    }
    td:first-child {
      max-width: 7.5rem;
      overflow: hidden;
      text-overflow: ellipsis;
    }
    td.prose:first-child {
      max-width: none;
      overflow: visible;
    }
  }
  @media (max-width: 30rem) {
    font-size: 0.86rem;
    th,
    td {
      padding-right: 0.5rem;
    }
  }
`;
const Foot = styled(Row)`
  justify-content: space-between;
  margin-top: 0.6rem;
`;

const interactive = "a, button, input, select, textarea, summary, label";

/**
 * The one table. Its order, hidden columns and place stand in the address; rows open by a press anywhere on them, and
 * the arrow keys move between what opens them. `csv` is the address of the same as a file.
 */
export function DataTable<R>({
  label,
  columns,
  rows,
  rowKey,
  rowTo,
  next,
  first,
  csv,
  empty,
  footing,
  opened,
}: {
  label: string;
  columns: readonly Column<R>[];
  rows: readonly R[];
  rowKey: (row: R) => string;
  /** Where a press on a row leads; its first column bears the link. */
  rowTo?: (row: R) => string;
  /** The cursor of the next page; null on the last. */
  next?: string | null;
  /** Whether this is the first page. */
  first?: boolean;
  csv?: string;
  empty: React.ReactNode;
  /** Sums below. */
  footing?: React.ReactNode;
  /** What a row that was opened in place shows. */
  opened?: { key: string; content: React.ReactNode } | null;
}) {
  const navigate = useNavigate();
  const { search } = useLocation();
  const body = useRef<HTMLTableSectionElement>(null);
  const query = new URLSearchParams(search);
  const chosen = query.get("columns")?.split(",") ?? null;
  const isShown = ({ id, always, extra }: Column<R>) =>
    always === true || (chosen ? chosen.includes(id) : extra !== true);
  const visible = columns.filter(isShown);
  const sort = query.get("sort");
  const to = (change: Record<string, string | null>) => {
    const changed = new URLSearchParams(search);
    for (const [name, value] of Object.entries(change))
      if (value === null) changed.delete(name);
      else changed.set(name, value);
    return `?${changed.toString()}`;
  };
  const onKeyDown = (event: React.KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1, Home: -Infinity, End: Infinity }[event.key];
    const links = [...(body.current?.querySelectorAll<HTMLElement>("[data-row]") ?? [])];
    const at = links.indexOf(document.activeElement as HTMLElement);
    if (step === undefined || at < 0) return;
    event.preventDefault();
    links[Math.min(Math.max(at + step, 0), links.length - 1)]?.focus();
  };
  return (
    <div>
      {rows.length === 0 ? (
        empty
      ) : (
        <Scroller tabIndex={0} role="region" aria-label={label} onKeyDown={onKeyDown}>
          <Grid aria-label={label}>
            <thead>
              <tr>
                {visible.map((column) => (
                  <Head key={column.id} column={column} sort={sort} to={to} />
                ))}
              </tr>
            </thead>
            <tbody ref={body}>
              {rows.map((row) => {
                const there = rowTo?.(row);
                const open = opened?.key === rowKey(row);
                return [
                  <tr
                    key={rowKey(row)}
                    {...(there && {
                      "data-opens": "",
                      onClick: (event: React.MouseEvent) => {
                        const chosenText = window.getSelection()?.toString();
                        if ((event.target as HTMLElement).closest(interactive) || chosenText) return;
                        void navigate(there, { preventScrollReset: opened !== undefined });
                      },
                    })}
                  >
                    {visible.map((column, i) => (
                      <td
                        key={column.id}
                        className={[column.amount && "amount", column.wide && "wide", column.prose && "prose"]
                          .filter(Boolean)
                          .join(" ")}
                      >
                        {i === 0 && there ? (
                          <Link
                            to={there}
                            data-row
                            preventScrollReset={opened !== undefined}
                            {...(opened !== undefined && { "aria-expanded": open })}
                          >
                            {column.cell(row)}
                          </Link>
                        ) : (
                          column.cell(row)
                        )}
                      </td>
                    ))}
                  </tr>,
                  open && (
                    <tr key={`${rowKey(row)} opened`}>
                      <td colSpan={visible.length} className="opened">
                        {opened.content}
                      </td>
                    </tr>
                  ),
                ];
              })}
            </tbody>
          </Grid>
        </Scroller>
      )}
      {footing}
      <Foot>
        <Row>
          {first === false && <Link to={to({ after: null })}>{t("first-page")}</Link>}
          {next && (
            <Link to={to({ after: next })} rel="next">
              {t("next-page")}
            </Link>
          )}
        </Row>
        {rows.length > 0 && (
          <Row>
            {columns.some((one) => !one.always) && (
              <MenuButton
                label={t("columns")}
                choices={columns.map((one) => ({ id: one.id, name: one.head || t("acts") }))}
                chosen={visible.map((one) => one.id)}
                fixed={columns.filter((one) => one.always).map((one) => one.id)}
                onChosen={(ids) =>
                  void navigate(to({ columns: ids.join(",") }), { preventScrollReset: true })
                }
              >
                <Columns3 size={15} aria-hidden /> {t("columns")}
              </MenuButton>
            )}
            {csv && (
              <a href={csv + search} download>
                <Download size={15} aria-hidden /> {t("csv")}
              </a>
            )}
          </Row>
        )}
      </Foot>
    </div>
  );
}

function Head<R>({
  column,
  sort,
  to,
}: {
  column: Column<R>;
  sort: string | null;
  to: (change: Record<string, string | null>) => string;
}) {
  const classes = [column.amount && "amount", column.wide && "wide"].filter(Boolean).join(" ");
  if (!column.sort)
    return (
      <th scope="col" className={classes}>
        {column.head || <span className="quiet">{t("acts")}</span>}
      </th>
    );
  const up = sort === column.sort;
  const down = sort === `-${column.sort}`;
  return (
    <th scope="col" className={classes} aria-sort={up ? "ascending" : down ? "descending" : undefined}>
      <Link to={to({ sort: down ? column.sort : `-${column.sort}`, after: null })} preventScrollReset>
        {column.head}
        {up && <ArrowUp size={13} aria-hidden />}
        {down && <ArrowDown size={13} aria-hidden />}
      </Link>
    </th>
  );
}

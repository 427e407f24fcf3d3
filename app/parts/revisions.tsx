import type { ReactNode } from "react";
import { t } from "../words/pages/revisions";
import { AskFirst } from "./ask";
import { type Column, DataTable } from "./data-table";
import { Button } from "./form";
import { ModePlate } from "./marks";
import { SelectBox } from "./select-box";
import { Row, Sheet, Small, Stack, Table } from "./sheet";
import { When } from "./when";

/** A revision of something: its number, who saved it when (milliseconds), and what it changed; null for the first. */
export interface Revision<Change> {
  number: number;
  person: string;
  createdAt: number;
  changes: readonly Change[] | null;
}

/** One setting in which two revisions differ: what it is called, and what stands in each. */
export interface Difference {
  key: string;
  name: string;
  values: readonly [ReactNode, ReactNode];
}

interface RevisionsProps<Change> {
  rows: readonly Revision<Change>[];
  next: number | null;
  /** Whether these are the newest. */
  first: boolean;
  /** The number of the newest of all; null where nothing was saved yet. */
  newest: number | null;
  /** What stands beside a revision's number, such as where it runs. */
  marked: (number: number) => ReactNode;
  /** A change in one line, with a key of its own. */
  line: (change: Change) => { key: string; says: ReactNode };
  /** What becomes of restoring one, said before it is done. */
  consequence: string;
  /** Whether the newest, too, can be restored, such as what was removed with it. */
  newestToo?: boolean;
  onRestore: (number: number) => void;
  disabled: boolean;
}

/** Every revision of something, the newest first, with what each changed and a press that takes it up again. */
export function RevisionTable<Change>({ rows, next, first, newest, ...props }: RevisionsProps<Change>) {
  const columns: Column<Revision<Change>>[] = [
    {
      ...{ id: "number", head: t("revision"), always: true },
      cell: ({ number }) => (
        <>
          {number} {props.marked(number)}
        </>
      ),
    },
    {
      ...{ id: "saved", head: t("saved"), always: true },
      cell: ({ createdAt, person }) =>
        person ? t("when-by-person", { when: <When at={createdAt} />, person }) : <When at={createdAt} />,
    },
    {
      ...{ id: "changes", head: t("what-it-changed"), always: true, prose: true },
      cell: ({ changes }) => <Changes changes={changes} line={props.line} />,
    },
    {
      ...{ id: "acts", head: "", always: true },
      cell: ({ number }) =>
        (number !== newest || props.newestToo) && (
          <AskFirst
            label={t("restore")}
            name={t("restore-revision-number", { number })}
            title={t("ask-restore-revision-number", { number })}
            says={props.consequence}
            yes={t("restore-it")}
            no={t("not-now")}
            disabled={props.disabled}
            onYes={() => props.onRestore(number)}
          />
        ),
    },
  ];
  return (
    <Sheet>
      <Stack>
        <DataTable
          label={t("revisions")}
          columns={columns}
          rows={rows}
          rowKey={(row) => String(row.number)}
          next={next === null ? null : String(next)}
          first={first}
          empty={<Small>{first ? t("nothing-was-saved-yet") : t("nothing-was-saved-before-that")}</Small>}
        />
      </Stack>
    </Sheet>
  );
}

function Changes<Change>({
  changes,
  line,
}: Pick<Revision<Change>, "changes"> & Pick<RevisionsProps<Change>, "line">) {
  if (changes === null) return <Small as="span">{t("the-first")}</Small>;
  if (changes.length === 0) return <Small as="span">{t("nothing")}</Small>;
  return (
    <ul>
      {changes.map(line).map(({ key, says }) => (
        <li key={key}>{says}</li>
      ))}
    </ul>
  );
}

/** Says beside a revision's number whether test or live runs it. */
export const runsIn = (runs: { working: number | null; live: number | null }) =>
  function Runs(number: number) {
    return (
      <>
        {number === runs.working && <ModePlate mode="test" />}{" "}
        {number === runs.live && <ModePlate mode="live" />}
      </>
    );
  };

/** Two revisions held against each other; at first the newest and what live runs, or the one before. */
export function CompareRevisions({
  newest,
  live = null,
  compared,
}: {
  newest: number;
  live?: number | null;
  compared: { pair: readonly [number, number]; differences: readonly Difference[] } | null;
}) {
  const choices = Array.from({ length: newest }, (_, i) => String(newest - i)).map((id) => ({
    id,
    name: id,
  }));
  const before = live !== null && live !== newest ? live : newest - 1;
  const [one, other] = compared?.pair ?? [before, newest];
  return (
    <Sheet>
      <Stack>
        <form method="get">
          <Row $align="end">
            <SelectBox
              label={t("compare-revision")}
              name="one"
              defaultValue={String(one)}
              choices={choices}
            />
            <SelectBox
              label={t("with-revision")}
              name="other"
              defaultValue={String(other)}
              choices={choices}
            />
            <Button>{t("compare")}</Button>
          </Row>
        </form>
        {compared && compared.differences.length === 0 && (
          <Small>{t("revisions-one-and-other-say", { one, other })}</Small>
        )}
        {compared && compared.differences.length > 0 && (
          <Table aria-label={t("what-differs")}>
            <thead>
              <tr>
                <th scope="col">{t("setting")}</th>
                <th scope="col">{t("revision-one", { one })}</th>
                <th scope="col">{t("revision-other", { other })}</th>
              </tr>
            </thead>
            <tbody>
              {compared.differences.map(({ key, name, values }) => (
                <tr key={key}>
                  <th scope="row">{name}</th>
                  <td>{values[0]}</td>
                  <td>{values[1]}</td>
                </tr>
              ))}
            </tbody>
          </Table>
        )}
      </Stack>
    </Sheet>
  );
}

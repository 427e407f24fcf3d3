import { Link } from "react-router";
import { styled } from "styled-components";
import type { Movement } from "#core/cutover/lever";
import { Small, Table } from "../parts/sheet";
import { When } from "../parts/when";
import { t } from "../words/pages/cutover";

const Way = styled.td`
  white-space: nowrap;
`;

interface Entry {
  id: string;
  kind: Movement;
  at: number;
  person: string;
  changes: number;
  reason: string | null;
}

const words: Record<Movement, (entry: Entry) => string> = {
  "cut-over": ({ changes }) => t("cut-over-to-live-changes", { changes }),
  "fall-back": () => t("fell-back-to-test"),
  "step-back": () => t("went-back-to-what-ran"),
  restore: () => t("a-snapshot-was-put-back"),
  replaced: () => t("another-connection-took-its-place"),
};

/** Every movement of a lever, with the way to what live ran before it. */
export function Movements({
  history,
  looked,
  connection,
}: {
  history: readonly Entry[];
  looked: string | null;
  connection: string;
}) {
  return (
    <>
      <h3>{t("movements-of-the-lever")}</h3>
      <Table>
        <tbody>
          {history.map((entry) => (
            <tr key={entry.id}>
              <td>
                <When at={entry.at} />
              </td>
              <td>
                {words[entry.kind](entry)}
                <Small>{t("by-person", { person: entry.person })}</Small>
                {entry.reason && <Small>{t("because-reason", { reason: entry.reason })}</Small>}
              </td>
              <Way>
                <Link
                  to={`?of=${connection}${looked === entry.id ? "" : `&look=${entry.id}`}`}
                  aria-current={looked === entry.id ? "true" : undefined}
                  preventScrollReset
                >
                  {t("what-ran-before", { looked: looked === entry.id ? "yes" : "no" })}
                </Link>
              </Way>
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}

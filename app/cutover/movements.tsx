import { Link } from "react-router";
import { styled } from "styled-components";
import type { Movement } from "#core/cutover/lever";
import { Small, Table } from "../parts/sheet";
import { When } from "../parts/when";

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
  "cut-over": ({ changes }) => `Cut over to live, ${changes} settings changed`,
  "fall-back": () => "Fell back to test",
  "step-back": () => "Went back to what ran before",
  restore: () => "A snapshot was put back at once",
  replaced: () => "Another connection took its place",
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
      <h3>Movements of the lever</h3>
      <Table>
        <tbody>
          {history.map((entry) => (
            <tr key={entry.id}>
              <td>
                <When at={entry.at} />
              </td>
              <td>
                {words[entry.kind](entry)}
                <Small>by {entry.person}</Small>
                {entry.reason && <Small>Because: {entry.reason}</Small>}
              </td>
              <Way>
                <Link
                  to={`?of=${connection}${looked === entry.id ? "" : `&look=${entry.id}`}`}
                  aria-current={looked === entry.id ? "true" : undefined}
                  preventScrollReset
                >
                  {looked === entry.id ? "Close" : "What ran before"}
                </Link>
              </Way>
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}

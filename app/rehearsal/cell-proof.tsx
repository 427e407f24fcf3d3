import { Play } from "lucide-react";
import { Link } from "react-router";
import { stateWords, paymentStates, type PaymentState } from "#core/payments/facts";
import { Button } from "../parts/form";
import { Note, Says } from "../parts/marks";
import { Row, Small, Stack, Table } from "../parts/sheet";
import { secondsText, When } from "../parts/when";
import { type BoardColumn, type CellView, meaningOf } from "./cell";

/** A verdict's value; a payment state in its words. */
const valueWords = (value: string) =>
  (paymentStates as readonly string[]).includes(value) ? stateWords(value as PaymentState) : value;

/** What a cell's newest run left behind, and the press that runs it again. */
export function CellProof({
  offer,
  cell,
  about,
  storefrontId,
  onRun,
}: {
  offer: BoardColumn;
  cell: CellView | undefined;
  about: string;
  storefrontId: string;
  onRun: () => void;
}) {
  const proof = cell?.proof;
  const meaning = meaningOf(cell);
  return (
    <Stack $gap={0.6}>
      <p>
        <strong>{offer.name}</strong> of {offer.account}, in test. {about}
      </p>
      {cell?.because && <Small>{cell.because}</Small>}
      {!cell?.required ? (
        <Says meaning="none">this offer does not need it</Says>
      ) : (
        <Row>
          <Button type="button" onClick={onRun} disabled={offer.running !== null}>
            <Play size={14} aria-hidden /> {proof ? "Run it again" : "Run it"}
          </Button>
          {offer.running !== null && <Small>This offer is being rehearsed.</Small>}
        </Row>
      )}
      {proof && cell?.required && (
        <>
          {meaning === "running" ? (
            <Says meaning="running">running</Says>
          ) : (
            <Says meaning={meaning}>
              {meaning === "proven" ? "passed" : meaning === "waits" ? "passed, but stale" : proof.state}
              {proof.how === "walked" ? ", walked by a person" : ""}
              {proof.duration !== null && proof.how !== "walked"
                ? ` in ${secondsText(proof.duration)}`
                : ""}, <When at={proof.at} />
            </Says>
          )}
          {proof.changed.length > 0 && (
            <Note meaning="waits">Changed since: {proof.changed.join(", ")}.</Note>
          )}
          {proof.error && <Note meaning="wrong">{proof.error}</Note>}
          {proof.verdicts.length > 0 && (
            <Table>
              <thead>
                <tr>
                  <th scope="col">What</th>
                  <th scope="col">Expected</th>
                  <th scope="col">Happened</th>
                </tr>
              </thead>
              <tbody>
                {proof.verdicts.map((one) => (
                  <tr key={one.what}>
                    <td>{one.what}</td>
                    <td>{valueWords(one.expected)}</td>
                    <td>
                      {one.ok ? (
                        valueWords(one.happened)
                      ) : (
                        <Says meaning="wrong">{valueWords(one.happened)}</Says>
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </Table>
          )}
          {proof.state !== "running" && (
            <Link to={`/s/${storefrontId}/rehearse/${proof.id}`}>Every message of it</Link>
          )}
        </>
      )}
    </Stack>
  );
}

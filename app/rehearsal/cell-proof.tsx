import { Play } from "lucide-react";
import { Link } from "react-router";
import { stateWords, paymentStates, type PaymentState } from "#core/payments/facts";
import { Button } from "../parts/form";
import { Note, Says } from "../parts/marks";
import { Row, Small, Stack, Table } from "../parts/sheet";
import { secondsText, When } from "../parts/when";
import { type BoardColumn, type CellView, meaningOf } from "./cell";
import { t } from "../words/pages/rehearsal";

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
        <strong>{offer.name}</strong> {t("of-account-in-test-about", { account: offer.account, about })}
      </p>
      {cell?.because && <Small>{cell.because}</Small>}
      {!cell?.required ? (
        <Says meaning="none">{t("this-offer-does-not-need")}</Says>
      ) : (
        <Row>
          <Button type="button" onClick={onRun} disabled={offer.running !== null}>
            <Play size={14} aria-hidden /> {t("run-it", { hasProof: proof ? "yes" : "no" })}
          </Button>
          {offer.running !== null && <Small>{t("this-offer-is-being-rehearsed")}</Small>}
        </Row>
      )}
      {proof && cell?.required && (
        <>
          {meaning === "running" ? (
            <Says meaning="running">{t("running")}</Says>
          ) : (
            <Says meaning={meaning}>
              {t("meaning-walked-by-a-person", {
                meaning:
                  meaning === "proven"
                    ? t("passed")
                    : meaning === "waits"
                      ? t("passed-but-stale")
                      : proof.state,
                walked: proof.how === "walked" ? "yes" : "no",
                duration:
                  proof.duration !== null && proof.how !== "walked"
                    ? t("in-duration", { duration: secondsText(proof.duration) })
                    : "",
                when: <When at={proof.at} />,
              })}
            </Says>
          )}
          {proof.changed.length > 0 && (
            <Note meaning="waits">{t("changed-since-changed", { changed: proof.changed.join(", ") })}</Note>
          )}
          {proof.error && <Note meaning="wrong">{proof.error}</Note>}
          {proof.verdicts.length > 0 && (
            <Table>
              <thead>
                <tr>
                  <th scope="col">{t("what")}</th>
                  <th scope="col">{t("expected")}</th>
                  <th scope="col">{t("happened")}</th>
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
            <Link to={`/s/${storefrontId}/rehearse/${proof.id}`}>{t("every-message-of-it")}</Link>
          )}
        </>
      )}
    </Stack>
  );
}

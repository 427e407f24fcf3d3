import { useState } from "react";
import { useFetcher, useRevalidator } from "react-router";
import { styled } from "styled-components";
import { useAnswer } from "../parts/answer";
import { Ask } from "../parts/ask";
import { CheckBox } from "../parts/check-box";
import { Button, Wrong } from "../parts/form";
import { Note } from "../parts/marks";
import { Row, Small, Stack } from "../parts/sheet";
import { color } from "../theme/tokens";
import type { ConnectionView } from "./connection-view";
import { Lever } from "./lever";
import { t } from "../words/pages/cutover";

interface Answer {
  says: string | null;
  refused?: boolean;
}

/** What is sent along with a lever: exactly the revisions that were looked at. */
function Looked({ one }: { one: ConnectionView }) {
  return (
    <>
      <input type="hidden" name="connection" value={one.id} />
      <input type="hidden" name={`revisions ${one.id}`} value={one.revisionIds.join(",")} />
      {one.only && <input type="hidden" name={`offers ${one.id}`} value={one.only} />}
    </>
  );
}

const Stuck = styled.div`
  position: sticky;
  bottom: 0;
  z-index: 4;
  margin-top: 1rem;
`;
const Bar = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.5rem 1.4rem;
  padding: 0.5rem 1.1rem;
  background: ${color.paper};
  border: 1.5px solid ${color.ink};
`;

/** Why the lever cannot move, or what it does. */
function leverWords(moving: readonly ConnectionView[], open: ConnectionView | null): string {
  const [only] = moving;
  if (moving.length > 1) return t("cut-over-moving-connections-together", { moving: moving.length });
  if (only)
    return only.live === "live" ? t("take-the-changes-of-name", { name: only.name }) : t("cut-over-to-live");
  if (open?.pending) {
    const closed = open.gates.filter((gate) => !gate.open).length;
    return t("locked-by-gates", { gates: closed });
  }
  return t("nothing-to-move");
}

/**
 * The lever, always in sight: it moves the connections that are ticked, all at the same moment or none. Where one is
 * opened it alone is ticked; otherwise all that is ready.
 */
export function LeverBar({
  connections,
  open,
}: {
  connections: readonly ConnectionView[];
  open: ConnectionView | null;
}) {
  const fetcher = useFetcher<Answer>();
  const { revalidate } = useRevalidator();
  const ready = connections.filter((one) => one.open && one.pending);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(
    () => new Set(ready.filter((one) => open === null || one.id === open.id).map((one) => one.id)),
  );
  const moving = ready.filter((one) => chosen.has(one.id));
  // What changed meanwhile is shown at once beside the words that say so.
  useAnswer(fetcher.data, ({ refused }) => {
    if (refused) void revalidate();
  });
  return (
    <Stuck as={fetcher.Form} method="post">
      <input type="hidden" name="press" value="cut-over" />
      <Bar role="group" aria-label={t("the-lever")}>
        <Lever locked={moving.length === 0} busy={fetcher.state !== "idle"} says={leverWords(moving, open)} />
        {ready.length > 1 || (ready.length === 1 && ready[0]?.id !== open?.id) ? (
          <Row $gap={1.2} role="group" aria-label={t("connections-to-cut-over")}>
            {ready.map((one) => (
              <CheckBox
                key={one.id}
                checked={chosen.has(one.id)}
                onChange={() => {
                  const next = new Set(chosen);
                  if (!next.delete(one.id)) next.add(one.id);
                  setChosen(next);
                }}
              >
                {one.name}
              </CheckBox>
            ))}
          </Row>
        ) : (
          <Small>{t("it-moves-when-every-gate", { hasMoving: moving.length > 0 ? "yes" : "no" })}</Small>
        )}
        {moving.map((one) => (
          <Looked key={one.id} one={one} />
        ))}
        <Wrong>{fetcher.data?.says}</Wrong>
      </Bar>
    </Stuck>
  );
}

/** The ways home, asked once. */
export function Back({ one }: { one: ConnectionView }) {
  const fetcher = useFetcher<Answer>();
  const [asking, setAsking] = useState(false);
  const close = () => setAsking(false);
  const go = (press: string) => {
    close();
    void fetcher.submit({ connection: one.id, press }, { method: "post" });
  };
  return (
    <Row>
      <Button
        type="button"
        $kind="danger"
        disabled={fetcher.state !== "idle"}
        onClick={() => setAsking(true)}
      >
        {t("fall-back")}
      </Button>
      {asking && (
        <Ask
          title={t("fall-back-from-live-with", { name: one.name })}
          says={
            <Stack $gap={0.5}>
              <p>{t("stop-new-live-payments-shoppers", { b: (inner) => <strong>{inner}</strong> })}</p>
              <p>{t("go-back-to-what-ran", { b: (inner) => <strong>{inner}</strong> })}</p>
              {!one.othersLive && <Note meaning="wrong">{t("nothing-else-is-live-here")}</Note>}
              <p>{t("either-way-payments-under-way")}</p>
            </Stack>
          }
          onClose={close}
        >
          <Button type="button" $kind="danger" onClick={() => go("fall-back")}>
            {t("stop-new-live-payments")}
          </Button>
          <Button type="button" $kind="danger" onClick={() => go("step-back")}>
            {t("go-back-to-what-ran-before")}
          </Button>
          <Button type="button" onClick={close}>
            {t("stay-live")}
          </Button>
        </Ask>
      )}
      <Small>{t("for-this-storefront-only-payments")}</Small>
      <Wrong>{fetcher.data?.refused ? fetcher.data.says : null}</Wrong>
    </Row>
  );
}

import { useEffect, useState } from "react";
import { useFetcher, useRevalidator } from "react-router";
import { styled } from "styled-components";
import { Ask } from "../parts/ask";
import { CheckBox } from "../parts/check-box";
import { Button, Wrong } from "../parts/form";
import { Note } from "../parts/marks";
import { Row, Small, Stack } from "../parts/sheet";
import { color } from "../theme/tokens";
import type { ConnectionView } from "./connection-view";
import { Lever } from "./lever";

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

const count = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;

/** Why the lever cannot move, or what it does. */
function leverWords(moving: readonly ConnectionView[], open: ConnectionView | null): string {
  const [only] = moving;
  if (moving.length > 1) return `Cut over ${moving.length} connections together`;
  if (only) return only.live === "live" ? `Take the changes of ${only.name} live` : "Cut over to live";
  if (open?.pending) {
    const closed = open.gates.filter((gate) => !gate.open).length;
    return `Locked by ${count(closed, "gate", "gates")}`;
  }
  return "Nothing to move";
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
  const refused = fetcher.data?.refused ?? false;
  // What changed meanwhile is shown at once beside the words that say so.
  useEffect(() => {
    if (refused) void revalidate();
  }, [refused, fetcher.data, revalidate]);
  return (
    <Stuck as={fetcher.Form} method="post">
      <input type="hidden" name="press" value="cut-over" />
      <Bar role="group" aria-label="The lever">
        <Lever locked={moving.length === 0} busy={fetcher.state !== "idle"} says={leverWords(moving, open)} />
        {ready.length > 1 || (ready.length === 1 && ready[0]?.id !== open?.id) ? (
          <Row $gap={1.2} role="group" aria-label="Connections to cut over">
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
          <Small>
            {moving.length > 0
              ? "What is listed under the changes is all that changes, on this storefront and no other."
              : "It moves when every gate of what is to go live is open."}
          </Small>
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
        Fall back…
      </Button>
      {asking && (
        <Ask
          title={`Fall back from live with ${one.name}?`}
          says={
            <Stack $gap={0.5}>
              <p>
                <strong>Stop new live payments</strong>: shoppers of this storefront are no longer shown it.
              </p>
              <p>
                <strong>Go back to what ran before</strong>: live runs what it ran before the last cutover;
                what it took the place of comes back.
              </p>
              {!one.othersLive && (
                <Note meaning="wrong">
                  Nothing else is live here: if it stops, shoppers of this storefront have no way to pay.
                </Note>
              )}
              <p>
                Either way payments under way keep the keys they began with; they can still be captured,
                voided and refunded. Other storefronts are not touched.
              </p>
            </Stack>
          }
          onClose={close}
        >
          <Button type="button" $kind="danger" onClick={() => go("fall-back")}>
            Stop new live payments
          </Button>
          <Button type="button" $kind="danger" onClick={() => go("step-back")}>
            Go back to what ran before
          </Button>
          <Button type="button" onClick={close}>
            Stay live
          </Button>
        </Ask>
      )}
      <Small>For this storefront only. Payments under way keep their keys.</Small>
      <Wrong>{fetcher.data?.refused ? fetcher.data.says : null}</Wrong>
    </Row>
  );
}

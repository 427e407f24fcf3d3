import { useState } from "react";
import { useFetcher } from "react-router";
import { Ask } from "../parts/ask";
import { Button, Check, Wrong } from "../parts/form";
import { Row, Small, Stack } from "../parts/sheet";
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

/** The lever of one connection. */
export function Throw({ one }: { one: ConnectionView }) {
  const fetcher = useFetcher<Answer>();
  const closed = one.gates.filter((gate) => !gate.open).length;
  return (
    <fetcher.Form method="post">
      <input type="hidden" name="press" value="cut-over" />
      <Looked one={one} />
      <Lever
        locked={!one.open}
        busy={fetcher.state !== "idle"}
        says={
          one.open
            ? one.live === "live"
              ? "Take these changes live"
              : "Cut over to live"
            : `Locked by ${closed} gate${closed === 1 ? "" : "s"}`
        }
      />
      <Wrong>{fetcher.data?.says}</Wrong>
    </fetcher.Form>
  );
}

/** One lever for all connections whose gates are open: those that are ticked move at the same moment. */
export function ThrowTogether({ ready }: { ready: readonly ConnectionView[] }) {
  const fetcher = useFetcher<Answer>();
  const [left, setLeft] = useState<readonly string[]>([]);
  const moving = ready.filter((one) => !left.includes(one.id));
  return (
    <fetcher.Form method="post">
      <input type="hidden" name="press" value="cut-over" />
      <Stack $gap={0.8}>
        <h2>All that is ready</h2>
        <Row $gap={1.2} role="group" aria-label="Connections to cut over">
          {ready.map((one) => (
            <Check key={one.id}>
              <input
                type="checkbox"
                checked={moving.includes(one)}
                onChange={() =>
                  setLeft(left.includes(one.id) ? left.filter((id) => id !== one.id) : [...left, one.id])
                }
              />
              {one.name}
            </Check>
          ))}
        </Row>
        {moving.map((one) => (
          <Looked key={one.id} one={one} />
        ))}
        <Row $gap={1}>
          <Lever
            locked={moving.length === 0}
            busy={fetcher.state !== "idle"}
            says={`Cut over ${moving.length} connection${moving.length === 1 ? "" : "s"} together`}
          />
          <Small>They move at the same moment, all or none.</Small>
        </Row>
        <Wrong>{fetcher.data?.says}</Wrong>
      </Stack>
    </fetcher.Form>
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

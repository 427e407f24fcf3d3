import { useFetcher } from "react-router";
import { AskFirst } from "../parts/ask";
import { Wrong } from "../parts/form";
import { Row, Small } from "../parts/sheet";
import type { ConnectionView } from "./connection-view";
import { Lever } from "./lever";

/** The lever with what is sent along: exactly the revisions that were looked at. */
export function Throw({ one }: { one: ConnectionView }) {
  const fetcher = useFetcher<{ says: string | null }>();
  const closed = one.gates.filter((gate) => !gate.open).length;
  return (
    <fetcher.Form method="post">
      <input type="hidden" name="connection" value={one.id} />
      <input type="hidden" name="revisions" value={one.revisionIds.join(",")} />
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

/** The way home, asked once. */
export function Back({ one }: { one: ConnectionView }) {
  const fetcher = useFetcher<{ says: string | null }>();
  return (
    <Row>
      <AskFirst
        label="Fall back to test"
        kind="danger"
        disabled={fetcher.state !== "idle"}
        title={`Fall back from live with ${one.name}?`}
        says="Shoppers in the live shop are no longer shown this offer. Payments under way keep the keys they began with; they can still be captured, voided and refunded."
        yes="Fall back"
        no="Stay live"
        onYes={() => void fetcher.submit({ connection: one.id, press: "fall-back" }, { method: "post" })}
      />
      <Small>Stops new live payments at once. Those under way keep their keys.</Small>
      <Wrong>{fetcher.data?.says}</Wrong>
    </Row>
  );
}

import { useState } from "react";
import { useFetcher } from "react-router";
import type { Mode } from "#core/mode";
import { AskFirst } from "../parts/ask";
import { CheckBox } from "../parts/check-box";
import { Button, Wrong } from "../parts/form";
import { ModePlate, Says } from "../parts/marks";
import { Row, Small } from "../parts/sheet";

interface Refused {
  ok: boolean;
  clash?: string;
  rivals?: string[];
}

/** Switches an offer off or on in one mode, at once. */
export function SwitchOff({ mode, off }: { mode: Mode; off: boolean }) {
  const fetcher = useFetcher<Refused>();
  const rivals = fetcher.data?.rivals ?? [];
  return (
    <fetcher.Form method="post">
      <input type="hidden" name="mode" value={mode} />
      <Wrong>{fetcher.data?.clash}</Wrong>
      <Row>
        <ModePlate mode={mode} />
        {off ? <Says meaning="wrong">switched off</Says> : <Says meaning="proven">switched on</Says>}
        <Button
          name="press"
          value={off ? "on" : "off"}
          disabled={fetcher.state !== "idle"}
          aria-label={off ? `Switch on in ${mode}` : `Switch off in ${mode} at once`}
        >
          {off ? "Switch on" : "Switch off at once"}
        </Button>
      </Row>
      {rivals.length > 0 && (
        <Button
          type="button"
          onClick={() => void fetcher.submit({ press: "on", mode, "in-place": "1" }, { method: "post" })}
        >
          Switch it on in place of {rivals.join(" and ")}
        </Button>
      )}
    </fetcher.Form>
  );
}

/** Copying an offer to another storefront, and taking it off this one. */
export function More({
  live,
  open,
  elsewhere,
  label,
}: {
  live: boolean;
  /** Payments of it that are still under way, or hold money. */
  open: { waiting: number; held: number };
  elsewhere: { id: string; name: string }[];
  label: string;
}) {
  const fetcher = useFetcher<Refused>();
  const [follows, setFollows] = useState(true);
  const says = [
    "Shoppers are no longer shown it, in test and in live.",
    open.waiting > 0
      ? `${open.waiting} of its payments are still under way; they go on, and what comes of them is recorded.`
      : "None of its payments is under way.",
    open.held > 0
      ? `${open.held} hold money; they can still be captured or let go.`
      : "What was captured can still be refunded.",
    "To offer it again later starts from nothing.",
  ].join(" ");
  return (
    <Row>
      {elsewhere.map((one) => (
        <Button
          key={one.id}
          type="button"
          $kind="bare"
          disabled={fetcher.state !== "idle"}
          onClick={() =>
            void fetcher.submit(
              { press: "copy", to: one.id, ...(follows && { follows: "yes" }) },
              { method: "post" },
            )
          }
        >
          Copy to {one.name}
        </Button>
      ))}
      {elsewhere.length > 0 && (
        <CheckBox checked={follows} onChange={(on) => setFollows(on)}>
          and let the copy follow
        </CheckBox>
      )}
      {live ? (
        <Small>To remove it, switch it off in live first.</Small>
      ) : (
        <AskFirst
          label="Remove"
          title={`Remove ${label}?`}
          says={says}
          yes="Remove the offer"
          no="Keep it"
          onYes={() => void fetcher.submit({ press: "remove" }, { method: "post" })}
        />
      )}
      <Wrong>{fetcher.data?.clash}</Wrong>
    </Row>
  );
}

import { useState } from "react";
import { useFetcher } from "react-router";
import type { Mode } from "#core/mode";
import { AskFirst } from "../parts/ask";
import { CheckBox } from "../parts/check-box";
import { Button, Wrong } from "../parts/form";
import { ModePlate, Says } from "../parts/marks";
import { Row, Small } from "../parts/sheet";
import { listed } from "../words/listed";
import { t } from "../words/pages/offers";

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
        {off ? (
          <Says meaning="wrong">{t("switched-off")}</Says>
        ) : (
          <Says meaning="proven">{t("switched-on")}</Says>
        )}
        <Button
          name="press"
          value={off ? "on" : "off"}
          disabled={fetcher.state !== "idle"}
          aria-label={off ? t("switch-on-in-mode", { mode }) : t("switch-off-in-mode-at", { mode })}
        >
          {t("switch-off-at-once", { hasOff: off ? "yes" : "no" })}
        </Button>
      </Row>
      {rivals.length > 0 && (
        <Button
          type="button"
          onClick={() => void fetcher.submit({ press: "on", mode, "in-place": "1" }, { method: "post" })}
        >
          {t("switch-it-on-in-place", { rivals: listed(rivals) })}
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
    t("shoppers-are-no-longer-shown"),
    open.waiting > 0
      ? t("waiting-of-its-payments-are", { waiting: open.waiting })
      : t("none-of-its-payments-is"),
    open.held > 0 ? t("held-hold-money-they-can", { held: open.held }) : t("what-was-captured-can-still"),
    t("to-offer-it-again-later"),
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
          {t("copy-to-name", { name: one.name })}
        </Button>
      ))}
      {elsewhere.length > 0 && (
        <CheckBox checked={follows} onChange={(on) => setFollows(on)}>
          {t("and-let-the-copy-follow")}
        </CheckBox>
      )}
      {live ? (
        <Small>{t("to-remove-it-switch-it")}</Small>
      ) : (
        <AskFirst
          label={t("remove")}
          title={t("remove-label", { label })}
          says={says}
          yes={t("remove-the-offer")}
          no={t("keep-it")}
          onYes={() => void fetcher.submit({ press: "remove" }, { method: "post" })}
        />
      )}
      <Wrong>{fetcher.data?.clash}</Wrong>
    </Row>
  );
}

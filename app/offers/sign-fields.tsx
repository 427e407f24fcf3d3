import { useFetcher } from "react-router";
import { offerIcons } from "#core/offers/icons";
import type { PictureRef } from "#core/looks/look";
import { OfferSign } from "../checkouts/sign";
import { useAnswer } from "../parts/answer";
import { fieldId } from "../parts/error-summary";
import { FileBox } from "../parts/file-box";
import { FieldSet, Hint } from "../parts/form";
import { Row, Small, Stack } from "../parts/sheet";
import { Picks } from "../parts/picks";
import { saysAt } from "../words/says-at";
import type { OfferPart } from "./fields";
import { t } from "../words/pages/offers";

type Answer = { ok: true; picture: PictureRef } | { ok: false; says: string };

/** The sign beside an offer's name: the usual one of its kind, another of ours, a picture of the shop's, or none. */
export function SignFields({ draft, edit, problems }: OfferPart) {
  const { sign } = draft;
  const fetcher = useFetcher<Answer>();
  const answer = fetcher.data;
  useAnswer(answer, (one) => {
    if (one.ok) edit({ sign: { picture: one.picture } });
  });
  const send = (file: File) => {
    const form = new FormData();
    form.set("press", "picture");
    form.set("picture", file);
    void fetcher.submit(form, { method: "post", encType: "multipart/form-data" });
  };
  const picture = sign && "picture" in sign ? sign : null;
  const chosen = picture ? "picture" : sign && "icon" in sign ? sign.icon : "usual";
  return (
    <FieldSet id={fieldId("sign")}>
      <legend>{t("sign-beside-the-name")}</legend>
      <Picks
        label={t("sign")}
        chosen={chosen}
        picks={[
          { id: "usual", says: t("the-usual-one") },
          ...offerIcons.map((icon) => ({ id: icon, says: <OfferSign sign={{ icon }} />, name: icon })),
          ...(picture
            ? [{ id: "picture", says: <OfferSign sign={picture} />, name: t("your-picture") }]
            : []),
          { id: "none", says: t("none-within") },
        ]}
        onPick={(id) => {
          if (id === "picture") return;
          if (id === "usual") edit({ sign: undefined });
          else edit({ sign: { icon: offerIcons.find((one) => one === id) ?? "none" } });
        }}
      />
      <Stack $gap={0.3}>
        <Row>
          <FileBox
            label={t("picture-of-your-own")}
            press={picture ? t("another-picture") : t("a-picture-of-your-own")}
            accept="image/png,image/jpeg,image/webp,image/svg+xml"
            hint={t("png-jpeg-web-p-or")}
            wrong={(answer && !answer.ok && answer.says) || saysAt(problems, "sign")}
            onFile={send}
          />
        </Row>
        {fetcher.state !== "idle" && <Small role="status">{t("the-picture-is-being-read")}</Small>}
      </Stack>
      <Hint>{t("it-is-there-to-be")}</Hint>
    </FieldSet>
  );
}

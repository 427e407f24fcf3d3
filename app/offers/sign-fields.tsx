import { useEffect, useRef } from "react";
import { useFetcher } from "react-router";
import { offerIcons } from "#core/offers/icons";
import type { PictureRef } from "#core/looks/look";
import { OfferSign } from "../checkouts/sign";
import { fieldId } from "../parts/error-summary";
import { FileBox } from "../parts/file-box";
import { FieldSet, Hint } from "../parts/form";
import { Row, Small, Stack } from "../parts/sheet";
import { Picks } from "../parts/picks";
import { saysAt } from "../words/says-at";
import type { OfferPart } from "./fields";

type Answer = { ok: true; picture: PictureRef } | { ok: false; says: string };

/** The sign beside an offer's name: the usual one of its kind, another of ours, a picture of the shop's, or none. */
export function SignFields({ draft, edit, problems }: OfferPart) {
  const { sign } = draft;
  const fetcher = useFetcher<Answer>();
  const answer = fetcher.data;
  // Each answer is heard once, or a sign that was chosen since would be taken away again.
  const heard = useRef<Answer | undefined>(undefined);
  useEffect(() => {
    if (!answer?.ok || heard.current === answer) return;
    heard.current = answer;
    edit({ sign: { picture: answer.picture } });
  }, [answer, edit]);
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
      <legend>Sign beside the name</legend>
      <Picks
        label="Sign"
        chosen={chosen}
        picks={[
          { id: "usual", says: "the usual one" },
          ...offerIcons.map((icon) => ({ id: icon, says: <OfferSign sign={{ icon }} />, name: icon })),
          ...(picture ? [{ id: "picture", says: <OfferSign sign={picture} />, name: "your picture" }] : []),
          { id: "none", says: "none" },
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
            label="Picture of your own"
            press={picture ? "Another picture" : "A picture of your own"}
            accept="image/png,image/jpeg,image/webp,image/svg+xml"
            hint="PNG, JPEG, WebP or SVG, up to 1 MB."
            wrong={(answer && !answer.ok && answer.says) || saysAt(problems, "sign")}
            onFile={send}
          />
        </Row>
        {fetcher.state !== "idle" && <Small role="status">The picture is being read…</Small>}
      </Stack>
      <Hint>It is there to be recognised; the name says what it is.</Hint>
    </FieldSet>
  );
}

import type { useFetcher } from "react-router";
import { styled } from "styled-components";
import type { PictureRef } from "#core/looks/look";
import { pictureAddress } from "../checkouts/picture-address";
import { FileBox } from "../parts/file-box";
import { Button } from "../parts/form";
import { Sheet, Stack } from "../parts/sheet";
import { color } from "../theme/tokens";
import { t } from "../words/pages/looks";

const Shown = styled.img`
  display: block;
  max-width: 100%;
  width: auto;
  height: auto;
  max-height: 5rem;
  background: #fffdf8;
  border: 1px solid ${color.rule};
  padding: 0.3rem;
`;

/** The logo as it is kept, and the way to another. */
export function LogoSheet({
  logo,
  onPress,
  fetcher,
  wrong,
}: {
  logo: PictureRef | null;
  onPress: (what: string) => void;
  fetcher: Pick<ReturnType<typeof useFetcher>, "submit">;
  wrong: string | undefined;
}) {
  const send = (file: File) => {
    const form = new FormData();
    form.set("press", "logo");
    form.set("logo", file);
    void fetcher.submit(form, { method: "post", encType: "multipart/form-data" });
  };
  return (
    <Sheet>
      <Stack>
        <h2>{t("logo")}</h2>
        {logo && (
          <Shown src={pictureAddress(logo)} alt={t("the-logo")} width={logo.width} height={logo.height} />
        )}
        <FileBox
          label={t("logo")}
          press={logo ? t("another-picture") : t("choose-a-picture")}
          accept="image/png,image/jpeg,image/webp,image/svg+xml"
          hint={t("png-jpeg-web-p-or")}
          wrong={wrong}
          onFile={send}
        />
        {logo && (
          <Button type="button" $kind="bare" onClick={() => onPress("no-logo")}>
            {t("show-the-name-instead")}
          </Button>
        )}
      </Stack>
    </Sheet>
  );
}
